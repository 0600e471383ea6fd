import { ChevronRight } from 'lucide-react';
import { Tick } from '../ui/tick.tsx';

interface PickListProps {
  label: string;
  of: readonly { value: string; name: string; note?: string }[];
  /** None is all of them. */
  chosen: readonly string[];
  onChoose: (chosen: string[]) => void;
}

/** Some of a list, or all of it, where nobody chose: what there is one of is no choice. */
export function PickList({ label, of, chosen, onChoose }: PickListProps) {
  if (of.length < 2) return null;
  const names = of.filter(({ value }) => chosen.includes(value)).map(({ name }) => name);
  return (
    <details className="group">
      <summary className="flex min-h-8 cursor-pointer items-center gap-2">
        <ChevronRight aria-hidden className="size-3.5 shrink-0 text-dim group-open:rotate-90" />
        <span className="w-16 shrink-0 text-dim">{label}</span>
        <span className="min-w-0 truncate" title={names.join(', ')}>
          {names.length === 0 ? `all ${of.length}` : names.join(', ')}
        </span>
      </summary>
      <div role="group" aria-label={label} className="max-h-48 overflow-auto rounded-md border border-line px-3 py-1">
        {of.map(({ value, name, note }) => (
          <Tick
            key={value}
            on={chosen.includes(value)}
            onChange={(on) => onChoose(on ? [...chosen, value] : chosen.filter((one) => one !== value))}
          >
            <span className="min-w-0 break-words">
              {name} {note !== undefined && <span className="text-faint">{note}</span>}
            </span>
          </Tick>
        ))}
      </div>
    </details>
  );
}
