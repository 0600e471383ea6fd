import type { ClipSort } from '@relay/contract/clips';
import { useQuery } from '@tanstack/react-query';
import { Search } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { clipsQuery, productionQuery, recipesQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { useKeys } from '../ui/keys.tsx';
import { Button, Empty, Key, Loading, ProblemNote, problemOf, MainLink } from '../ui/pieces.tsx';
import { CsvPanel } from './csv.tsx';
import { ClipDocket, SelectionDocket } from './docket.tsx';
import { SavedFilters } from './filters.tsx';
import { sheetLines } from './groups.ts';
import { useLines } from './lines.ts';
import { PatternPanel } from './pattern.tsx';
import { PrepareRun } from '../prepare/prepareRun.tsx';
import { useKeptSelection } from './kept.ts';
import { clicked, moved, nothing, toggled, within } from './selection.ts';
import { Sheet } from './sheet.tsx';

/** What the docket shows beside what is selected. */
type Panel = 'none' | 'run' | 'pattern' | 'csv';

export function ClipsPage() {
  const { production: id = '' } = useParams();
  const go = useNavigate();
  const [address, setAddress] = useSearchParams();
  const { data: production } = useQuery(productionQuery(id));
  const { data: recipes = [] } = useQuery(recipesQuery);
  const [sort, setSort] = useState<ClipSort>('group');
  const [direction, setDirection] = useState<'up' | 'down'>('up');
  const filter = address.get('filter') ?? '';
  const [typed, setTyped] = useState(filter);
  const [dense, setDense] = useState(() => localStorage.getItem('rows') === 'dense');
  const [kept, setSelection] = useKeptSelection(id);
  const [panel, setPanel] = useState<Panel>('none');
  const [view, setView] = useState({ first: 0, last: 30 });
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (typed === filter) return;
    const timer = setTimeout(() => setAddress(typed === '' ? {} : { filter: typed }, { replace: true }), 150);
    return () => clearTimeout(timer);
  }, [typed, filter, setAddress]);
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
  const onView = useCallback(
    (first: number, last: number) =>
      setView((now) => (now.first === first && now.last === last ? now : { first, last })),
    [],
  );
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
    R: open('run'),
    p: open('pattern'),
    P: open('pattern'),
    b: () => {
      const first = selected[0] ?? selection.at;
      if (first) void go(`/p/${id}/bench/${first}`, { state: { selection: selected } });
    },
    e: () => document.querySelector<HTMLInputElement>('aside [data-first-field]')?.focus(),
  });
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      const target = event.target as HTMLElement;
      if (
        (event.ctrlKey || event.metaKey) &&
        event.key === 'a' &&
        !['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName)
      ) {
        event.preventDefault();
        setSelection({ chosen: new Set(ids), at: ids[0] ?? null, from: ids[0] ?? null });
      }
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [ids, setSelection]);

  if (error && !data) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (isPending)
    return (
      <div className="flex-1">
        <Loading what="The clips" rows={12} />
      </div>
    );
  if (ids.length === 0 && filter === '') {
    return (
      <div className="flex-1 px-6">
        <Empty title="No clips yet">
          <p>Bring a card in, or point Brisk Relay at a folder of camera originals; every file is described here.</p>
          <MainLink to={`/p/${id}/arrivals`} className="mt-4">
            Go to Arrivals
          </MainLink>
        </Empty>
      </div>
    );
  }
  const onSort = (wanted: ClipSort): void => {
    // A third press on the same column brings the groups back.
    const again = wanted === sort;
    setSort(again && direction === 'down' ? 'group' : wanted);
    setDirection(again && direction === 'up' ? 'down' : 'up');
  };
  const docketOpen = panel !== 'none' || selected.length > 0;
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex items-center gap-3 border-b border-line px-5 py-2">
          <label className="relative w-64 shrink-0">
            <span className="sr-only">Filter the clips</span>
            <Search className="pointer-events-none absolute top-2 left-2.5 size-4 text-faint" aria-hidden />
            <input
              ref={field}
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
              onKeyDown={(event) => {
                if (event.key === 'Escape') {
                  setTyped('');
                  event.currentTarget.blur();
                }
              }}
              placeholder="Any word of it; -word leaves out"
              className="h-8 w-full rounded-md border border-line bg-ground pr-8 pl-8 placeholder:text-faint"
            />
            <span className="pointer-events-none absolute top-1.5 right-2">
              <Key>/</Key>
            </span>
          </label>
          <SavedFilters production={id} words={filter} onChoose={setTyped} />
          <span role="status" className="min-w-0 truncate text-dim">
            {filter ? `${ids.length} of ${production?.counts.clips ?? 0} clips` : plural(ids.length, 'clip')}
            {selected.length > 0 && `, ${selected.length} selected`}
          </span>
          {sort !== 'group' && (
            <button
              type="button"
              className="shrink-0 text-dim underline underline-offset-4 hover:text-ink"
              onClick={() => setSort('group')}
            >
              Back to groups
            </button>
          )}
          <span className="ml-auto flex shrink-0 items-center gap-2">
            <Button
              aria-pressed={dense}
              onClick={() => {
                localStorage.setItem('rows', dense ? 'roomy' : 'dense');
                setDense(!dense);
              }}
            >
              {dense ? 'Roomy' : 'Dense'}
            </Button>
            <Button aria-pressed={panel === 'csv'} onClick={() => setPanel(panel === 'csv' ? 'none' : 'csv')}>
              CSV
            </Button>
            {selected.length === 0 && (
              <Button main={panel === 'none'} onClick={open('run')}>
                Run all {ids.length}…{' '}
                <span className="ml-1 rounded border border-on-clay/40 px-1 font-mono text-[11px] leading-4">R</span>
              </Button>
            )}
          </span>
        </div>
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
            onSort={onSort}
            onOpen={look}
            onView={onView}
            onRow={(rowId, event) =>
              setSelection(
                clicked(selection, ids, rowId, { shift: event.shiftKey, control: event.ctrlKey || event.metaKey }),
              )
            }
            onHeading={(group) =>
              setSelection({ chosen: new Set(group), at: group[0] ?? null, from: group[0] ?? null })
            }
          />
        )}
      </div>
      {docketOpen && (
        <aside
          aria-label="Docket"
          className={`${panel === 'pattern' || panel === 'csv' ? 'w-[440px]' : 'w-[336px]'} shrink-0 overflow-auto border-l border-line bg-raised/40`}
        >
          {panel === 'run' && production && (
            <PrepareRun
              production={{ id, name: production.name, runs: production.counts.runs }}
              clips={toRun}
              recipes={recipes}
              onClose={() => setPanel('none')}
            />
          )}
          {panel === 'pattern' && <PatternPanel production={id} clips={toRun} onClose={() => setPanel('none')} />}
          {panel === 'csv' && <CsvPanel production={id} filter={filter} onClose={() => setPanel('none')} />}
          {panel === 'none' &&
            (selected.length === 1 ? (
              <ClipDocket
                id={selected[0] as string}
                production={id}
                recipe={recipes[0]}
                onRun={open('run')}
                onPattern={open('pattern')}
              />
            ) : (
              <SelectionDocket ids={selected} production={id} onRun={open('run')} onPattern={open('pattern')} />
            ))}
        </aside>
      )}
    </>
  );
}
