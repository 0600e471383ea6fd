import type { Cdl } from '@relay/core/colour/ops/op';
import { NumberField } from '../ui/numberField.tsx';

const rows = [
  ['slope', 0, 4, 0.01],
  ['offset', -1, 1, 0.002],
  ['power', 0.05, 4, 0.01],
] as const;
const channels = ['Red', 'Green', 'Blue'] as const;

/** The ten numbers of a CDL, typed or stepped with the arrow keys. */
export function CdlFields({ cdl, onChange }: { cdl: Cdl; onChange: (cdl: Cdl) => void }) {
  const number = (
    label: string,
    value: number,
    [least, most, step]: readonly [number, number, number],
    set: (value: number) => void,
  ) => (
    <NumberField
      label={label}
      value={value}
      least={least}
      most={most}
      step={step}
      className="h-7 px-1.5"
      onChange={(typed) => {
        if (typed !== null) set(typed);
      }}
    />
  );
  return (
    <div className="grid grid-cols-[4.5rem_1fr_1fr_1fr] items-center gap-x-1.5 gap-y-1">
      <span />
      {channels.map((channel) => (
        <span key={channel} className="text-right text-[11px] text-faint">
          {channel}
        </span>
      ))}
      {rows.map(([name, least, most, step]) => [
        <span key={name} className="text-dim capitalize">
          {name}
        </span>,
        ...channels.map((channel, c) => (
          <span key={name + channel}>
            {number(`${channel} ${name}`, cdl[name][c as 0 | 1 | 2], [least, most, step], (value) => {
              const next: [number, number, number] = [...cdl[name]];
              next[c] = value;
              onChange({ ...cdl, [name]: next });
            })}
          </span>
        )),
      ])}
      <span className="text-dim">Saturation</span>
      {number('Saturation', cdl.saturation, [0, 4, 0.01], (saturation) => onChange({ ...cdl, saturation }))}
    </div>
  );
}
