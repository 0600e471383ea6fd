import { useQuery } from '@tanstack/react-query';
import { useCallback, useMemo, useRef, useState } from 'react';
import { Link, useLocation, useNavigate, useParams } from 'react-router';
import { clipsQuery, productionQuery, recipesQuery } from '../api/queries.ts';
import { useKeys, useSelectAll } from '../ui/keys.ts';
import { blocks, copyText, Empty, Loading, MainLink, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { alwaysShown, columnIds, columnsShown, usualColumns } from './columns.tsx';
import { groupOf, sheetLines } from './groups.ts';
import { useKeptSelection } from './kept.ts';
import { useLines } from './lines.ts';
import { RowMenu } from './rowMenu.tsx';
import { all, clicked, moved, nothing, toggled, within } from './selection.ts';
import { Sheet } from './sheet.tsx';
import { SideDocket, type Panel } from './sideDocket.tsx';
import { grouped, sortedBy } from './sorting.ts';
import { Toolbar } from './toolbar.tsx';
import { useColumnLayout } from './useColumnLayout.ts';
import { useRunNew } from './useRunNew.ts';
import { useSelectionInAddress, useSheetAddress } from './useSheetAddress.ts';

/** Whether rows stand close, kept for the next visit. */
function useDense(): [boolean, () => void] {
  const [dense, setDense] = useState(() => localStorage.getItem('rows') === 'dense');
  return [
    dense,
    () => {
      localStorage.setItem('rows', dense ? 'roomy' : 'dense');
      setDense(!dense);
    },
  ];
}

/** A list that was dropped on some page and brought here. */
function useDroppedList(onList: () => void): File | null {
  const { state } = useLocation() as { state: { list?: File } | null };
  const list = state?.list ?? null;
  const [shown, setShown] = useState<File | null>(null);
  if (list !== shown) {
    setShown(list);
    if (list) onList();
  }
  return list;
}

/** What is in view of a list, told as it is scrolled. */
function useView() {
  const [view, setView] = useState({ first: 0, last: 30 });
  const onView = useCallback(
    (first: number, last: number) =>
      setView((now) => (now.first === first && now.last === last ? now : { first, last })),
    [],
  );
  return { view, onView };
}

/** The clips that are listed, as they are sorted and filtered, and what is selected of them. */
function useListed(production: string) {
  const said = useSheetAddress(production);
  const [kept, setSelection] = useKeptSelection(production);
  const { view, onView } = useView();
  const { sort, direction } = said.sorting;
  const { data, error, refetch, isPending } = useQuery(clipsQuery(production, sort, direction, said.filter));
  const lines = useMemo(() => (data ? sheetLines(data, sort) : []), [data, sort]);
  const clips = useLines(production, data, view);
  const ids = useMemo(() => data?.ids ?? [], [data]);
  const selection = useMemo(() => within(kept, ids), [kept, ids]);
  const selected = useMemo(() => ids.filter((clip) => selection.chosen.has(clip)), [ids, selection]);
  useSelectionInAddress(selection, ids, setSelection);
  return { ...said, lines, clips, ids, selection, selected, setSelection, onView, data, error, refetch, isPending };
}
type Listed = ReturnType<typeof useListed>;

/** What can be done with what is selected, by key, menu and docket alike. */
function useOffers(production: string, { ids, lines, clips, selection, selected, setSelection }: Listed) {
  const go = useNavigate();
  const [panel, setPanel] = useState<Panel>('none');
  const toRun = selected.length > 0 ? selected : ids;
  const open = (wanted: Panel) => (): void => {
    if (toRun.length > 0) setPanel(wanted);
  };
  const look = (clip: string): void => void go(`/p/${production}/clips/${clip}`);
  const toBench = (): void => {
    const first = selected[0] ?? selection.at;
    if (first) void go(`/p/${production}/bench/${first}`, { state: { selection: selected } });
  };
  const selectGroup = (): void => {
    const group = groupOf(lines, selection.at);
    if (group.length > 0) setSelection(all(group));
  };
  const menu = {
    selected: selected.length,
    pictured: selected.some((id) => clips.get(id)?.frames !== null),
    onRun: open('run'),
    onWatch: () => look(selected[0] ?? ''),
    onBench: toBench,
    onPattern: open('pattern'),
    onGroup: selectGroup,
    onCopyPath: () => copyText(clips.get(selected[0] ?? '')?.path ?? ''),
    onNothing: () => setSelection(nothing),
    onOpen: (clip: string | null): boolean => {
      const at = clip ?? selection.at;
      if (at !== null && !selection.chosen.has(at)) setSelection(all([at]));
      return at !== null;
    },
  };
  return { panel, setPanel, toRun, open, look, toBench, selectGroup, menu };
}
type Offers = ReturnType<typeof useOffers>;

/** Keys on the sheet: from clip to clip, from cell to cell of one, and what can be done with what is selected. */
function useSheetKeys(
  listed: Listed,
  offers: Offers,
  { columns, runNew, onSlash }: { columns: readonly string[]; runNew: () => void; onSlash: () => void },
) {
  const { ids, selection, setSelection } = listed;
  const { panel, setPanel } = offers;
  const [cell, setCell] = useState<string | null>(null);
  const move = (by: number) => (event: KeyboardEvent) => setSelection(moved(selection, ids, by, event.shiftKey));
  const along = (by: -1 | 1) => (): void => {
    const next = (cell === null ? -1 : columns.indexOf(cell)) + by;
    if (selection.at !== null) setCell(columns[Math.min(columns.length - 1, next)] ?? null);
  };
  useKeys({
    ArrowDown: move(1),
    ArrowUp: move(-1),
    ArrowRight: along(1),
    ArrowLeft: along(-1),
    PageDown: move(15),
    PageUp: move(-15),
    Home: move(-1e6),
    End: move(1e6),
    ' ': () => setSelection(toggled(selection)),
    Enter: () => {
      if (selection.at) offers.look(selection.at);
    },
    Escape: () => (panel !== 'none' ? setPanel('none') : setSelection(nothing)),
    '/': onSlash,
    r: offers.open('run'),
    n: runNew,
    p: offers.open('pattern'),
    b: offers.toBench,
    g: offers.selectGroup,
    e: () => document.querySelector<HTMLInputElement>('aside [data-first-field]')?.focus(),
  });
  useSelectAll(useCallback(() => setSelection(all(ids)), [ids, setSelection]));
  return cell;
}

/** The clips in their groups, what is selected of them, and the docket beside. */
export function ClipsPage() {
  const { production: id = '' } = useParams();
  const { data: production } = useQuery(productionQuery(id));
  const { data: recipes = [] } = useQuery(recipesQuery);
  const [dense, toggleDense] = useDense();
  const field = useRef<HTMLInputElement>(null);
  const listed = useListed(id);
  const { lines, clips, ids, selection, selected, setSelection, sorting, filter, typed, setTyped } = listed;
  const offers = useOffers(id, listed);
  const { panel, setPanel } = offers;
  const list = useDroppedList(() => setPanel('csv'));
  const { layout, own, ownChoice, change, asUsual } = useColumnLayout(columnIds, alwaysShown, usualColumns);
  const docketOpen = panel !== 'none' || selected.length > 0;
  // Whoever chose columns of their own keeps them; else those go that the docket repeats.
  const narrow = docketOpen && !ownChoice;
  const runNew = useRunNew(id, listed, () => setPanel('run'));
  const cell = useSheetKeys(listed, offers, {
    columns: columnsShown(layout, narrow),
    runNew: runNew.begin,
    onSlash: () => field.current?.focus(),
  });

  if (listed.error && blocks(listed.error, listed.data))
    return <ProblemNote problem={problemOf(listed.error)} again={() => void listed.refetch()} />;
  if (listed.isPending)
    return (
      <div className="flex-1">
        <Loading what="The clips" rows={12} />
      </div>
    );
  if (ids.length === 0 && filter === '') return <NoClips production={id} />;
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col">
        <Toolbar
          production={id}
          field={field}
          typed={typed}
          onType={setTyped}
          filter={filter}
          listed={ids.length}
          all={production?.counts.clips ?? 0}
          selected={selected.length}
          sorted={sorting.sort !== 'group'}
          onGroups={() => listed.setSorting(grouped)}
          dense={dense}
          onDense={toggleDense}
          columns={{ layout, own, onLayout: change, onUsual: asUsual }}
          csv={panel === 'csv'}
          onCsv={() => setPanel(panel === 'csv' ? 'none' : 'csv')}
          runIsNext={panel === 'none'}
          onRun={offers.open('run')}
          runNew={production && production.counts.runs > 0 ? runNew : null}
        />
        {ids.length === 0 ? (
          <NoneFits onAll={() => setTyped('')} />
        ) : (
          <RowMenu {...offers.menu}>
            <Sheet
              lines={lines}
              clips={clips}
              selection={selection}
              cell={cell}
              {...sorting}
              layout={layout}
              onLayout={change}
              dense={dense}
              narrow={narrow}
              onSort={(column) => listed.setSorting(sortedBy(sorting, column))}
              onOpen={offers.look}
              onView={listed.onView}
              onRow={(rowId, { shiftKey, ctrlKey, metaKey }) =>
                setSelection(clicked(selection, ids, rowId, { shift: shiftKey, control: ctrlKey || metaKey }))
              }
              onHeading={(group) => setSelection(all(group))}
            />
          </RowMenu>
        )}
      </div>
      {docketOpen && (
        <SideDocket
          panel={panel}
          onPanel={setPanel}
          production={id}
          facts={production}
          filter={filter}
          list={list}
          selected={selected}
          clips={offers.toRun}
          recipes={recipes}
        />
      )}
    </>
  );
}

function NoneFits({ onAll }: { onAll: () => void }) {
  return (
    <p className="p-6 text-dim">
      No clip has all of these words in its facts.{' '}
      <button type="button" className="text-ink underline underline-offset-4" onClick={onAll}>
        Show all
      </button>
    </p>
  );
}

function NoClips({ production }: { production: string }) {
  return (
    <div className="flex-1 px-6">
      <Empty title="No clips yet">
        <p>Point Brisk Relay at a folder of camera originals, or bring a card in: every file is described here.</p>
        <span className="mt-4 flex items-center gap-3">
          <MainLink to={`/p/${production}/arrivals`} state={{ add: true }}>
            Read a folder…
          </MainLink>
          <Link
            to={`/p/${production}/arrivals`}
            state={{ bring: true }}
            className="inline-flex h-8 items-center rounded-md border border-line px-3.5 hover:bg-raised"
          >
            Bring a card in…
          </Link>
        </span>
      </Empty>
    </div>
  );
}
