import type { RunCheck } from '@relay/contract/runs';
import type { ReactNode } from 'react';
import { LevelShape } from '../ui/levelMark.tsx';
import { plural } from '../ui/format.ts';
import { Button } from '../ui/pieces.tsx';
import { tooFull } from './runDraft.ts';
import type { Preparing } from './useRunDraft.ts';

/** Lines of a list that are shown; the rest is counted. */
const most = 20;

interface RunWarningsProps {
  facts: RunCheck;
  mend: Preparing['mend'];
}

/** What stands in a run's way, and what its person should know before it starts. */
export function RunWarnings({ facts, mend }: RunWarningsProps) {
  const full = tooFull(facts).filter(({ there }) => there);
  return (
    <>
      {facts.stores
        .filter(({ there }) => !there)
        .map(({ id, name }) => (
          <Warn key={id} level="stop" title={`${name} is not there`}>
            Mount it, or choose another store.
          </Warn>
        ))}
      {full.length > 0 && (
        <Warn level="stop" title={`It may not fit on ${full.map(({ name }) => name).join(' and ')}`}>
          Choose another store, or fewer clips.
        </Warn>
      )}
      <Clashes facts={facts} mend={mend} />
      <ThereAlready facts={facts} />
      <Gone paths={facts.gone} />
      <Refused lines={facts.refused} />
      <OfClips facts={facts} />
    </>
  );
}

/** Originals that are not where they were read: their legs would fail. */
function Gone({ paths }: { paths: readonly string[] }) {
  if (paths.length === 0) return null;
  return (
    <Warn level="stop" title={`${plural(paths.length, 'original is', 'originals are')} not there any more`}>
      <span className="block font-mono text-[12px] break-all">
        {paths.slice(0, 5).join(', ')}
        {paths.length > 5 ? ' …' : ''}
      </span>
      Mount their disk, put them back, or say under Arrivals, Originals where they lie now; without them their legs fail
      and the others go on.
    </Warn>
  );
}

function Clashes({ facts: { clashes, remedy }, mend }: Pick<RunWarningsProps, 'facts' | 'mend'>) {
  if (clashes === 0) return null;
  return (
    <Warn level="stop" title={`${plural(clashes, 'path')} cannot be made`}>
      {remedy ? (
        <Button className="mt-1" disabled={mend.busy} onClick={() => mend.by(remedy.definition)}>
          {remedy.text}
        </Button>
      ) : (
        'Change the path pattern of the recipe.'
      )}
    </Warn>
  );
}

/** Names that something lies under: outputs to another plan, and whatever else. */
function ThereAlready({ facts: { superseded, taken } }: { facts: RunCheck }) {
  const others = taken.length - superseded;
  return (
    <>
      {superseded > 0 && (
        <Warn level="decide" title={`${plural(superseded, 'output was', 'outputs were')} made otherwise before`}>
          Made again; what is there is set aside under superseded/ once the new one is proved.
        </Warn>
      )}
      {others > 0 && (
        <Warn level="decide" title={`${plural(others, 'name is', 'names are')} taken already`}>
          Outputs that an earlier run recorded are proved again and kept; any other file is left as it is, and its clip
          says so.
        </Warn>
      )}
    </>
  );
}

function Refused({ lines }: { lines: RunCheck['refused'] }) {
  return (
    <>
      {lines.slice(0, most).map((line) => (
        <Warn key={line.clip} level="stop" title={line.path}>
          {line.problem.what}. {line.problem.remedy}.
        </Warn>
      ))}
      {lines.length > most && (
        <Warn level="stop" title={`and ${lines.length - most} more that cannot be made`}>
          Their reasons are of the same kinds; each clip&apos;s leg will say its own.
        </Warn>
      )}
    </>
  );
}

/** Clips that are kept out, are to be decided on, or are not known closely yet. */
function OfClips({ facts: { keptOut, toDecide, notLooked } }: { facts: RunCheck }) {
  return (
    <>
      {keptOut.length > 0 && (
        <Warn level="stop" title={`${plural(keptOut.length, 'clip is', 'clips are')} kept out`}>
          <ClipList lines={keptOut.map(({ clip, path, why }) => ({ clip, path, says: why }))} />
        </Warn>
      )}
      {toDecide.length > 0 && (
        <Warn level="decide" title={`To decide on ${plural(toDecide.length, 'clip')}`}>
          <ClipList
            lines={toDecide.map(({ clip, path, findings }) => ({
              clip,
              path,
              says: findings.map((finding) => finding.text).join('; '),
            }))}
          />
          Starting runs them as they are, and writes down that you said so. To leave one out, answer its finding first.
        </Warn>
      )}
      {notLooked > 0 && (
        <Warn level="decide" title={`${plural(notLooked, 'clip is', 'clips are')} still being looked at`}>
          More may be found about them; wait a moment, or start all the same.
        </Warn>
      )}
    </>
  );
}

function ClipList({ lines }: { lines: readonly { clip: string; path: string; says: string }[] }) {
  return (
    <>
      <ul>
        {lines.slice(0, most).map((line) => (
          <li key={line.clip}>
            <span className="font-mono text-ink">{nameOf(line.path)}</span> {line.says}
          </li>
        ))}
      </ul>
      {lines.length > most && <p>and {lines.length - most} more</p>}
    </>
  );
}

/** The last part of a path. */
function nameOf(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

function Warn({ level, title, children }: { level: 'decide' | 'stop'; title: string; children: ReactNode }) {
  return (
    <div className="mt-3 text-dim">
      <p className="flex items-baseline gap-2 text-ink">
        <LevelShape level={level} />
        <span className="break-all">{title}</span>
      </p>
      <div className="pl-4">{children}</div>
    </div>
  );
}
