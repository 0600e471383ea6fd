import type { ClipSort } from '@relay/contract/api';
import { useQuery } from '@tanstack/react-query';
import { Search } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { clipsQuery, productionQuery, recipesQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { useKeys } from '../ui/keys.tsx';
import { Button, Empty, Key, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { ClipDocket } from './docket.tsx';
import { withHeadings, type SheetLine } from './groups.ts';
import { PrepareRun } from './prepareRun.tsx';
import { clicked, moved, nothing, toggled, within, type Selection } from './selection.ts';
import { Sheet } from './sheet.tsx';

export function ClipsPage() {
  const { production: id = '' } = useParams();
  const { data: production } = useQuery(productionQuery(id));
  const { data: recipes = [] } = useQuery(recipesQuery);
  const [sort, setSort] = useState<ClipSort>('group');
  const [direction, setDirection] = useState<'up' | 'down'>('up');
  const [typed, setTyped] = useState('');
  const [filter, setFilter] = useState('');
  const [dense, setDense] = useState(() => localStorage.getItem('rows') === 'dense');
  const [kept, setSelection] = useState<Selection>(nothing);
  const [preparing, setPreparing] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const timer = setTimeout(() => setFilter(typed), 150);
    return () => clearTimeout(timer);
  }, [typed]);
  const { data, error, refetch, isPending } = useQuery(clipsQuery(id, sort, direction, filter));
  const lines = useMemo<SheetLine[]>(() => (data ? (sort === 'group' ? withHeadings(data.clips) : data.clips.map((clip) => ({ kind: 'clip', clip }))) : []), [data, sort]);
  const ids = useMemo(() => lines.flatMap((line) => (line.kind === 'clip' ? [line.clip.id] : [])), [lines]);
  const selection = useMemo(() => within(kept, ids), [kept, ids]);
  const selected = useMemo(() => (data?.clips ?? []).filter((clip) => selection.chosen.has(clip.id)), [data, selection]);
  const toRun = selected.length > 0 ? selected : (data?.clips ?? []);
  const move = (by: number) => (event: KeyboardEvent) => setSelection(moved(selection, ids, by, event.shiftKey));
  const prepare = (): void => {
    if (toRun.length > 0) setPreparing(true);
  };
  useKeys({
    ArrowDown: move(1), ArrowUp: move(-1), PageDown: move(15), PageUp: move(-15), Home: move(-1e6), End: move(1e6),
    ' ': () => setSelection(toggled(selection)),
    Escape: () => (preparing ? setPreparing(false) : setSelection(nothing)),
    '/': () => field.current?.focus(), r: prepare, R: prepare,
  });
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      const target = event.target as HTMLElement;
      if ((event.ctrlKey || event.metaKey) && event.key === 'a' && !['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName)) {
        event.preventDefault();
        setSelection({ chosen: new Set(ids), at: ids[0] ?? null, from: ids[0] ?? null });
      }
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [ids]);

  if (error && !data) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (isPending) return <div className="flex-1"><Loading what="The clips" rows={12} /></div>;
  if (data && data.clips.length === 0 && filter === '') {
    return (
      <div className="flex-1 px-6">
        <Empty title="No clips yet">
          <p>Point Brisk Relay at a folder of camera originals; every file below it is described here.</p>
          <Link to={`/p/${id}/arrivals`} className="mt-4 inline-flex h-8 items-center rounded-md bg-clay px-3.5 font-semibold text-on-clay">Choose a folder</Link>
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
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex items-center gap-3 border-b border-line px-5 py-2">
          <label className="relative w-72">
            <span className="sr-only">Filter the clips</span>
            <Search className="pointer-events-none absolute top-2 left-2.5 size-4 text-faint" aria-hidden />
            <input ref={field} value={typed} onChange={(event) => setTyped(event.target.value)} onKeyDown={(event) => { if (event.key === 'Escape') { setTyped(''); event.currentTarget.blur(); } }} placeholder="Name, roll, codec, raster…" className="h-8 w-full rounded-md border border-line bg-ground pr-8 pl-8 placeholder:text-faint" />
            <span className="pointer-events-none absolute top-1.5 right-2"><Key>/</Key></span>
          </label>
          <span role="status" className="text-dim">{filter ? `${data?.clips.length ?? 0} of ${production?.counts.clips ?? 0} clips` : plural(data?.clips.length ?? 0, 'clip')}{selected.length > 0 && `, ${selected.length} selected`}</span>
          {sort !== 'group' && <button type="button" className="text-dim underline underline-offset-4 hover:text-ink" onClick={() => setSort('group')}>Back to groups</button>}
          <span className="ml-auto flex items-center gap-2">
            <Button aria-pressed={dense} onClick={() => { localStorage.setItem('rows', dense ? 'roomy' : 'dense'); setDense(!dense); }}>{dense ? 'Roomy rows' : 'Dense rows'}</Button>
            {selected.length === 0 && <Button main={!preparing} onClick={prepare}>Run all {data?.clips.length ?? 0}… <span className="ml-1 rounded border border-on-clay/40 px-1 font-mono text-[11px] leading-4">R</span></Button>}
          </span>
        </div>
        {data?.clips.length === 0
          ? <p className="p-6 text-dim">No clip has all of these words in its facts. <button type="button" className="text-ink underline underline-offset-4" onClick={() => setTyped('')}>Show all</button></p>
          : (
            <Sheet
              lines={lines} selection={selection} sort={sort} direction={direction} dense={dense} narrow={preparing || selected.length > 0} onSort={onSort}
              onRow={(rowId, event) => setSelection(clicked(selection, ids, rowId, { shift: event.shiftKey, control: event.ctrlKey || event.metaKey }))}
              onHeading={(group) => setSelection({ chosen: new Set(group), at: group[0] ?? null, from: group[0] ?? null })}
            />
          )}
      </div>
      {(preparing || selected.length > 0) && (
        <aside aria-label="Docket" className="w-[336px] shrink-0 overflow-auto border-l border-line bg-raised/40">
          {preparing && production
            ? <PrepareRun production={{ id, name: production.name, runs: production.counts.runs }} clips={toRun} recipes={recipes} onClose={() => setPreparing(false)} />
            : <ClipDocket clips={selected} recipe={recipes[0]} onRun={prepare} />}
        </aside>
      )}
    </>
  );
}
