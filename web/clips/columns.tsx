import { clipRows } from '@relay/contract/routes/clips';
import type { ClipLine, ClipSort } from '@relay/contract/clips';
import type { LegState } from '@relay/contract/states';
import { formatRaster } from '@relay/core/shape/raster';
import { formatLength } from '@relay/core/time/timecode';
import {
  columnOrderingFeature,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  createColumnHelper,
  metaHelper,
  tableFeatures,
} from '@tanstack/react-table';
import type { ReactNode } from 'react';
import { addressOf } from '../api/client.ts';
import { sayRate } from '../ui/format.ts';
import { LevelMark } from '../ui/levelMark.tsx';
import { Bytes } from '../ui/pieces.tsx';
import { stateColour } from '../ui/stateMark.tsx';
import { widthLimits, type ColumnLayout } from './columnLayout.ts';

interface ColumnFacts {
  /** What its cells show of a clip. */
  show: (clip: ClipLine) => ReactNode;
  /** What it is sorted by, where the server sorts by it. */
  sort?: ClipSort;
  /** How wide it is until somebody draws it: a track of a grid. */
  track: string;
  right?: boolean;
  /** Left out while the docket takes its room: it says the same. */
  roomyOnly?: boolean;
  /** What is said of it where its head shows no name. */
  says?: string;
  /** How its cells are laid out. */
  classes?: string;
  /** What the pointer is told where a cell is cut off. */
  title?: (clip: ClipLine) => string;
}

export const sheetFeatures = tableFeatures({
  columnOrderingFeature,
  columnVisibilityFeature,
  columnSizingFeature,
  columnResizingFeature,
  columnMeta: metaHelper<ColumnFacts>(),
});

const helper = createColumnHelper<typeof sheetFeatures, ClipLine>();

/** A column: its id, its head, what is known of it, and what its cells show of a clip. */
function column(id: string, header: string, facts: Omit<ColumnFacts, 'show'>, show: ColumnFacts['show']) {
  return helper.display({
    id,
    header,
    meta: { ...facts, show },
    minSize: widthLimits.least,
    maxSize: widthLimits.most,
  });
}

const text = 'truncate';
const mono = 'truncate font-mono';
const dim = 'truncate font-mono text-dim';
const none = <span className="text-faint">–</span>;

/** The sheet's columns, in their usual order; those after the last usual one are shown on wish. */
export const sheetColumns = helper.columns([
  column('picture', '', { track: '62px', says: 'Picture', classes: 'flex items-center' }, (clip) =>
    clip.poster ? (
      <img
        src={addressOf(clipRows.poster, { clip: clip.id })}
        alt=""
        loading="lazy"
        className="h-[34px] max-w-[60px] rounded-[3px] bg-surround object-contain group-data-dense/sheet:h-6"
      />
    ) : (
      <span className="h-[34px] w-[60px] rounded-[3px] bg-surround group-data-dense/sheet:h-6" />
    ),
  ),
  column(
    'clip',
    'Clip',
    { sort: 'name', track: 'minmax(92px,1fr)', classes: `${text} font-semibold`, title: (clip) => clip.path },
    (clip) => clip.stem,
  ),
  column(
    'roll',
    'Roll',
    { sort: 'roll', track: '50px', classes: dim, title: (clip) => clip.roll },
    (clip) => clip.roll,
  ),
  column('scene', 'Scene', { sort: 'scene', track: '58px', classes: `flex items-center gap-1 ${mono}` }, sceneAndTake),
  column(
    'starts',
    'Starts',
    { sort: 'starts', track: '92px', classes: mono },
    (clip) => clip.starts ?? <span className="text-faint">none</span>,
  ),
  column('length', 'Length', { sort: 'length', track: '92px', classes: mono }, ({ frames, rate }) =>
    frames !== null && rate ? formatLength(frames, rate) : none,
  ),
  column('raster', 'Raster', { sort: 'raster', track: '80px', right: true, roomyOnly: true, classes: dim }, (clip) =>
    clip.raster ? formatRaster(clip.raster) : none,
  ),
  column('depth', 'Depth', { track: '64px', roomyOnly: true, classes: dim }, (clip) => clip.sampling ?? none),
  column('rate', 'Rate', { sort: 'rate', track: '54px', right: true, classes: mono }, ({ rate, rateConstant }) =>
    rate ? sayRate({ rate, rateConstant }) : none,
  ),
  column(
    'sound',
    'Sound',
    { track: '44px', right: true, roomyOnly: true, classes: dim },
    (clip) => clip.channels || none,
  ),
  column('size', 'Size', { sort: 'size', track: '66px', right: true, roomyOnly: true, classes: text }, (clip) => (
    <Bytes value={clip.sizeBytes} />
  )),
  column(
    'toKnow',
    'To know',
    { sort: 'notes', track: 'minmax(120px,1.6fr)', classes: `flex items-center gap-2 ${text}` },
    (clip) => <ToKnow clip={clip} />,
  ),
  column('way', 'Way', { track: '70px' }, (clip) => <Way way={clip.way} />),
  column('reel', 'Reel', { track: '80px', classes: dim }, ({ identity }) => identity.reel ?? none),
  column('camera', 'Camera', { track: '58px', classes: mono }, ({ identity }) => identity.camera ?? none),
  column(
    'note',
    'Note',
    { track: 'minmax(120px,1fr)', classes: text, title: ({ identity }) => identity.note ?? '' },
    ({ identity }) => identity.note ?? none,
  ),
  column('path', 'Path', { track: 'minmax(140px,1fr)', classes: dim, title: (clip) => clip.path }, (clip) => clip.path),
]);

export const columnIds = sheetColumns.flatMap(({ id }) => id ?? []);
/** Without it nobody knows what a row is. */
export const alwaysShown = ['clip'];
export const usualColumns = 'picture.clip.roll.scene.starts.length.raster.depth.rate.sound.size.toKnow.way';

/** Which columns are shown, in their order; `narrow` where the docket beside says what some of them do. */
export function columnsShown({ order, hidden }: ColumnLayout, narrow: boolean): string[] {
  return order.filter(
    (id) => !hidden.has(id) && !(narrow && sheetColumns.find((one) => one.id === id)?.meta?.roomyOnly),
  );
}

/** What a column is called where names are listed. */
export function nameOfColumn(id: string): string {
  const found = sheetColumns.find((one) => one.id === id);
  return found?.meta?.says ?? (typeof found?.header === 'string' ? found.header : id);
}

function sceneAndTake({ identity }: ClipLine) {
  return (
    <>
      <span className="truncate">{[identity.scene, identity.take].filter(Boolean).join('·') || none}</span>
      {identity.circled && (
        <span role="img" aria-label="circled" className="size-2.5 shrink-0 rounded-full border-2 border-ink" />
      )}
    </>
  );
}

/** What is to know, the gravest first; what somebody decided on is no longer pressing. */
function ToKnow({ clip }: { clip: ClipLine }) {
  const [first] = clip.findings;
  if (!first) return <span className="text-faint">{clip.looked ? 'nothing' : 'not looked at yet'}</span>;
  const pressing = clip.findings.find((finding) => !finding.decided && finding.level !== 'note') ?? first;
  const texts = [pressing, ...clip.findings.filter((finding) => finding !== pressing)]
    .map((finding) => finding.text)
    .join('; ');
  const calm = pressing.level === 'note' || pressing.decided;
  return (
    <>
      <LevelMark level={pressing.level} decided={pressing.decided} />
      <span className={`truncate ${calm ? 'text-dim' : ''}`} title={texts}>
        {texts}
      </span>
    </>
  );
}

/** The clip's way so far: a stretch of lane for each deliverable. */
function Way({ way }: { way: ClipLine['way'] }) {
  const lanes =
    way.length > 0
      ? way
      : [
          { role: 'intermediate', state: 'waiting' as LegState, share: 0 },
          { role: 'proxy', state: 'waiting' as LegState, share: 0 },
        ];
  const words = way.length > 0 ? way.map((lane) => `${lane.role}: ${lane.state}`).join(', ') : 'nothing run yet';
  return (
    <span role="img" aria-label={words} title={words} className="flex gap-1">
      {lanes.map((lane) => {
        const under = lane.state === 'running' || lane.state === 'proving';
        return (
          <span key={lane.role} className="h-[5px] flex-1 overflow-hidden rounded-full bg-lane">
            {lane.state !== 'waiting' && (
              <span
                className={`block h-full rounded-full ${stateColour[lane.state]}`}
                style={{ width: under ? `${Math.max(6, lane.share * 100)}%` : '100%' }}
              />
            )}
          </span>
        );
      })}
    </span>
  );
}
