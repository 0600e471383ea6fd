import { useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { useNavigate } from 'react-router';
import { productionsQuery, runsQuery } from '../api/queries.ts';
import { stations } from './track.tsx';

/** One box that reaches every screen, production and run. */
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
  const { data: productions = [] } = useQuery({ ...productionsQuery, enabled: open });
  const { data: runs = [] } = useQuery({ ...runsQuery(production ?? ''), enabled: open && production !== null });
  const to = (path: string) => () => {
    onOpenChange(false);
    void go(path);
  };
  const item = 'flex cursor-pointer items-center justify-between rounded-md px-3 py-2 data-[selected=true]:bg-raised';
  return (
    <Command.Dialog
      open={open}
      onOpenChange={onOpenChange}
      label="Go to"
      overlayClassName="fixed inset-0 z-40 bg-black/50"
      contentClassName="fixed top-[14vh] left-1/2 z-50 w-[520px] max-w-[92vw] -translate-x-1/2 overflow-hidden rounded-xl border border-line bg-sheet"
    >
      <Command.Input
        placeholder="A screen, a production, a run"
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
        {production && (
          <Command.Item className={item} onSelect={to(`/p/${production}/cabinet`)}>
            <span className="text-ink">LUT cabinet</span>
          </Command.Item>
        )}
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
