import type { ClipLine } from '@relay/contract/clips';
import { useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { clipsQuery, productionsQuery, runsQuery } from '../api/queries.ts';
import { stations } from './track.tsx';
import { useSettled } from './useSettled.ts';

/** Screens that lie within stations, and are gone to by their own names. */
const within = [
  { name: 'Inlets', path: 'arrivals/inlets' },
  { name: 'Originals', path: 'arrivals/originals' },
  { name: 'LUT cabinet', path: 'cabinet' },
  { name: 'Space', path: 'handoffs/space' },
] as const;

/** Clips that are offered at most: who types on sees fewer. */
const mostClips = 8;

/** The clips of a production whose facts hold what is typed; none until two letters are. */
function useClipsFound(production: string | null, typed: string): ClipLine[] {
  const words = useSettled(typed.trim());
  const { data } = useQuery({
    ...clipsQuery(production ?? '', 'name', 'up', words),
    enabled: production !== null && words.length >= 2,
  });
  return words.length >= 2 ? (data?.lines ?? []).slice(0, mostClips) : [];
}

/** One box that reaches every screen, production, run and clip. */
export function CommandBox({
  open,
  onOpenChange,
  production,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  production: string | null;
}) {
  const go = useNavigate();
  const [typed, setTyped] = useState('');
  const clips = useClipsFound(production, open ? typed : '');
  const { data: productions = [] } = useQuery({ ...productionsQuery, enabled: open });
  const { data: runs = [] } = useQuery({ ...runsQuery(production ?? ''), enabled: open && production !== null });
  const change = (wanted: boolean): void => {
    if (!wanted) setTyped('');
    onOpenChange(wanted);
  };
  const to = (path: string) => () => {
    change(false);
    void go(path);
  };
  const item = 'flex cursor-pointer items-center justify-between rounded-md px-3 py-2 data-[selected=true]:bg-raised';
  return (
    <Command.Dialog
      open={open}
      onOpenChange={change}
      label="Go to"
      overlayClassName="fixed inset-0 z-40 bg-black/50"
      contentClassName="fixed top-[14vh] left-1/2 z-50 w-[520px] max-w-[92vw] -translate-x-1/2 overflow-hidden rounded-xl border border-line bg-sheet"
    >
      <Command.Input
        value={typed}
        onValueChange={setTyped}
        placeholder="A screen, a production, a run, a clip"
        className="h-11 w-full border-b border-line bg-transparent px-4 text-ink placeholder:text-faint focus-visible:outline-none"
      />
      <Command.List className="max-h-[60vh] overflow-auto p-2 text-dim">
        <Command.Empty className="px-3 py-4">Nothing of that name</Command.Empty>
        {production &&
          stations.map((station) => (
            <Command.Item key={station.path} className={item} onSelect={to(`/p/${production}/${station.path}`)}>
              <span className="text-ink">{station.name}</span>
            </Command.Item>
          ))}
        {production &&
          within.map(({ name, path }) => (
            <Command.Item key={path} className={item} onSelect={to(`/p/${production}/${path}`)}>
              <span className="text-ink">{name}</span>
            </Command.Item>
          ))}
        {clips.map((clip) => (
          <Command.Item
            key={clip.id}
            // The server has found it by any of its facts; what was typed among them lets the list keep it.
            value={`clip ${clip.stem} ${clip.id} ${typed}`}
            className={item}
            onSelect={to(`/p/${production ?? ''}/clips/${clip.id}`)}
          >
            <span className="text-ink">{clip.stem}</span>
            <span className="truncate pl-4">clip, {clip.roll}</span>
          </Command.Item>
        ))}
        {runs.map((run) => (
          <Command.Item
            key={run.id}
            value={`run ${run.name} ${run.id}`}
            className={item}
            onSelect={to(`/p/${production}/runs/${run.id}`)}
          >
            <span className="text-ink">{run.name}</span>
            <span>run</span>
          </Command.Item>
        ))}
        {productions.map((one) => (
          <Command.Item
            key={one.id}
            value={`production ${one.name}`}
            className={item}
            onSelect={to(`/p/${one.id}/clips`)}
          >
            <span className="text-ink">{one.name}</span>
            <span>production</span>
          </Command.Item>
        ))}
        <Command.Item className={item} onSelect={to('/site')}>
          <span className="text-ink">Site: stores and workers</span>
        </Command.Item>
        <Command.Item className={item} onSelect={to('/')}>
          <span className="text-ink">All productions</span>
        </Command.Item>
      </Command.List>
    </Command.Dialog>
  );
}
