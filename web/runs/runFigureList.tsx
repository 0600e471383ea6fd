import type { RunAnswer } from '@relay/contract/runs';
import { plural, sayClock, splitBytes } from '../ui/format.ts';
import { sayReady, sayWanted, type RunFigures } from './runFigures.ts';

interface RunFigureListProps {
  run: RunAnswer;
  figures: RunFigures;
  now: number;
  /** Shows a leg that somebody has to look at. */
  onLookAt: (leg: string) => void;
}

/** A run in figures: when it will be ready, what is proved, made and to be looked at. */
export function RunFigureList({ run, figures, now, onLookAt }: RunFigureListProps) {
  const { open, count, readyAt, spent, speed, made, lookAt } = figures;
  const [number, unit] = splitBytes(run.bytes);
  const [first] = lookAt;
  const wanted = run.wantedBy ? Date.parse(run.wantedBy) : null;
  return (
    <dl className="flex flex-wrap gap-x-12 gap-y-3 px-6 pt-4 pb-5" aria-live="off">
      <Figure
        name={open ? 'Ready about' : 'Ended'}
        value={readyAt ? sayClock(new Date(readyAt), spent < 3600) : '–'}
        note={sayReady(run, figures, now)}
      />
      {wanted !== null && (
        <Figure
          name="Wanted by"
          value={sayClock(new Date(wanted))}
          note={sayWanted(wanted, readyAt)}
          tone={readyAt && readyAt > wanted ? 'amber' : undefined}
        />
      )}
      <Figure name="Proved" value={String(count('proved'))} note={`of ${plural(run.legLines.length, 'leg')}`} />
      <Figure name="Made" value={`${number} ${unit}`} note={plural(made, 'output')} />
      <Figure name="Speed" value={speed === null ? '–' : `${speed.toFixed(2)}×`} note="of real time" />
      <Figure
        name="To look at"
        value={String(lookAt.length)}
        note={first ? [...new Set(lookAt.map((leg) => leg.state))].join(', ') : 'nothing'}
        onClick={first ? () => onLookAt(first.id) : undefined}
      />
    </dl>
  );
}

interface FigureProps {
  name: string;
  value: string;
  note: string;
  tone?: 'amber' | undefined;
  onClick?: (() => void) | undefined;
}

function Figure({ name, value, note, tone, onClick }: FigureProps) {
  return (
    <div>
      <dt className="text-dim">{name}</dt>
      <dd className="font-mono text-[22px] leading-7">
        {onClick ? (
          <button type="button" className="underline decoration-line underline-offset-4" onClick={onClick}>
            {value}
          </button>
        ) : (
          value
        )}
      </dd>
      <dd className={`text-[12px] ${tone === 'amber' ? 'text-amber' : 'text-faint'}`}>{note}</dd>
    </div>
  );
}
