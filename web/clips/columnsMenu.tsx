import { ArrowDown, ArrowUp, Minus, Plus, type LucideIcon } from 'lucide-react';
import { Popover } from 'radix-ui';
import { Button } from '../ui/pieces.tsx';
import { movedBy, shownAs, withinLimits, type ColumnLayout } from './columnLayout.ts';
import { alwaysShown, nameOfColumn } from './columns.tsx';

export interface ColumnsMenuProps {
  layout: ColumnLayout;
  /** Whether it differs from the usual layout. */
  own: boolean;
  onLayout: (layout: ColumnLayout) => void;
  onUsual: () => void;
}

/** A width to begin from, of a column that takes what room there is, in pixels; and one step of it. */
const [begin, step] = [120, 16];

/** Which columns the sheet shows, in which order and how wide: for all that the head offers by mouse. */
export function ColumnsMenu({ layout, own, onLayout, onUsual }: ColumnsMenuProps) {
  const widen = (name: string, by: number): void =>
    onLayout({ ...layout, widths: { ...layout.widths, [name]: withinLimits((layout.widths[name] ?? begin) + by) } });
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button>Columns</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label="Columns"
          align="end"
          sideOffset={6}
          collisionPadding={8}
          className="z-30 max-h-(--radix-popover-content-available-height) w-80 overflow-auto rounded-lg border border-line bg-sheet p-3"
        >
          <ul aria-label="Columns">
            {layout.order.map((name) => {
              const title = nameOfColumn(name);
              const shown = !layout.hidden.has(name);
              return (
                <li key={name} className="flex items-center gap-1 py-0.5">
                  <label className="flex min-w-0 flex-1 items-center gap-2">
                    <input
                      type="checkbox"
                      checked={shown}
                      disabled={alwaysShown.includes(name)}
                      onChange={(event) => onLayout(shownAs(layout, name, event.target.checked))}
                    />
                    <span className="truncate">{title}</span>
                    {shown && layout.widths[name] !== undefined && (
                      <span className="font-mono text-faint">{layout.widths[name]} px</span>
                    )}
                  </label>
                  {shown && (
                    <>
                      <Step
                        icon={ArrowUp}
                        label={`${title} further left`}
                        onPress={() => onLayout(movedBy(layout, name, -1))}
                      />
                      <Step
                        icon={ArrowDown}
                        label={`${title} further right`}
                        onPress={() => onLayout(movedBy(layout, name, 1))}
                      />
                      <Step icon={Minus} label={`${title} narrower`} onPress={() => widen(name, -step)} />
                      <Step icon={Plus} label={`${title} wider`} onPress={() => widen(name, step)} />
                    </>
                  )}
                </li>
              );
            })}
          </ul>
          <Button className="mt-2" disabled={!own} onClick={onUsual}>
            As usual
          </Button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Step({ icon: Icon, label, onPress }: { icon: LucideIcon; label: string; onPress: () => void }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onPress}
      className="grid size-6 place-items-center rounded text-dim hover:bg-raised hover:text-ink"
    >
      <Icon className="size-3.5" aria-hidden />
    </button>
  );
}
