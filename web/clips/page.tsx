import { useQuery } from '@tanstack/react-query';
import { useCallback, useMemo, useRef, useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { clipsQuery, productionQuery, recipesQuery } from '../api/queries.ts';
import { useKeys, useSelectAll } from '../ui/keys.tsx';
import { blocks, Empty, Loading, MainLink, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { groupOf, sheetLines } from './groups.ts';
import { useKeptSelection } from './kept.ts';
import { useLines } from './lines.ts';
import { all, clicked, moved, nothing, toggled, within } from './selection.ts';
import { Sheet } from './sheet.tsx';
import { SideDocket, type Panel } from './sideDocket.tsx';
import { grouped, sortedBy } from './sorting.ts';
import { Toolbar } from './toolbar.tsx';
import { useClipFilter } from './useClipFilter.ts';

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

/** The clips in their groups, what is selected of them, and the docket beside. */
export function ClipsPage() {
  const { production: id = '' } = useParams();
  const go = useNavigate();
  const { data: production } = useQuery(productionQuery(id));
  const { data: recipes = [] } = useQuery(recipesQuery);
  const [sorting, setSorting] = useState(grouped);
  const { filter, typed, setTyped } = useClipFilter();
  const [dense, toggleDense] = useDense();
  const [kept, setSelection] = useKeptSelection(id);
  const [panel, setPanel] = useState<Panel>('none');
  const list = useDroppedList(() => setPanel('csv'));
  const { view, onView } = useView();
  const field = useRef<HTMLInputElement>(null);
  const { sort, direction } = sorting;
  const { data, error, refetch, isPending } = useQuery(clipsQuery(id, sort, direction, filter));
  const lines = useMemo(() => (data ? sheetLines(data, sort) : []), [data, sort]);
  const clips = useLines(id, data, view);
  const ids = useMemo(() => data?.ids ?? [], [data]);
  const selection = useMemo(() => within(kept, ids), [kept, ids]);
  const selected = useMemo(() => ids.filter((clip) => selection.chosen.has(clip)), [ids, selection]);
  const toRun = selected.length > 0 ? selected : ids;
  const move = (by: number) => (event: KeyboardEvent) => setSelection(moved(selection, ids, by, event.shiftKey));
  const open = (wanted: Panel) => (): void => {
    if (toRun.length > 0) setPanel(wanted);
  };
  const look = (clip: string): void => void go(`/p/${id}/clips/${clip}`);
  const toBench = (): void => {
    const first = selected[0] ?? selection.at;
    if (first) void go(`/p/${id}/bench/${first}`, { state: { selection: selected } });
  };

  useKeys({
    ArrowDown: move(1),
    ArrowUp: move(-1),
    PageDown: move(15),
    PageUp: move(-15),
    Home: move(-1e6),
    End: move(1e6),
    ' ': () => setSelection(toggled(selection)),
    Enter: () => {
      if (selection.at) look(selection.at);
    },
    Escape: () => (panel !== 'none' ? setPanel('none') : setSelection(nothing)),
    '/': () => field.current?.focus(),
    r: open('run'),
    p: open('pattern'),
    b: toBench,
    g: () => {
      const group = groupOf(lines, selection.at);
      if (group.length > 0) setSelection(all(group));
    },
    e: () => document.querySelector<HTMLInputElement>('aside [data-first-field]')?.focus(),
  });
  useSelectAll(useCallback(() => setSelection(all(ids)), [ids, setSelection]));

  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (isPending)
    return (
      <div className="flex-1">
        <Loading what="The clips" rows={12} />
      </div>
    );
  if (ids.length === 0 && filter === '') return <NoClips production={id} />;
  const docketOpen = panel !== 'none' || selected.length > 0;
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
          sorted={sort !== 'group'}
          onGroups={() => setSorting(grouped)}
          dense={dense}
          onDense={toggleDense}
          csv={panel === 'csv'}
          onCsv={() => setPanel(panel === 'csv' ? 'none' : 'csv')}
          runIsNext={panel === 'none'}
          onRun={open('run')}
        />
        {ids.length === 0 ? (
          <p className="p-6 text-dim">
            No clip has all of these words in its facts.{' '}
            <button type="button" className="text-ink underline underline-offset-4" onClick={() => setTyped('')}>
              Show all
            </button>
          </p>
        ) : (
          <Sheet
            lines={lines}
            clips={clips}
            selection={selection}
            sort={sort}
            direction={direction}
            dense={dense}
            narrow={docketOpen}
            onSort={(column) => setSorting(sortedBy(sorting, column))}
            onOpen={look}
            onView={onView}
            onRow={(rowId, { shiftKey, ctrlKey, metaKey }) =>
              setSelection(clicked(selection, ids, rowId, { shift: shiftKey, control: ctrlKey || metaKey }))
            }
            onHeading={(group) => setSelection(all(group))}
          />
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
          clips={toRun}
          recipes={recipes}
        />
      )}
    </>
  );
}

function NoClips({ production }: { production: string }) {
  return (
    <div className="flex-1 px-6">
      <Empty title="No clips yet">
        <p>Bring a card in, or point Brisk Relay at a folder of camera originals; every file is described here.</p>
        <MainLink to={`/p/${production}/arrivals`} className="mt-4">
          Go to Arrivals
        </MainLink>
      </Empty>
    </div>
  );
}
