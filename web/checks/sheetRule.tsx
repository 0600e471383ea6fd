import type { CheckSheet } from '@relay/contract/checkSheet';
import { checkRows } from '@relay/contract/routes/checks';
import type { CheckRule } from '@relay/core/checks/checkSheet';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { ask } from '../api/client.ts';
import { plural } from '../ui/format.ts';
import { Tick } from '../ui/tick.tsx';
import { NumberField } from '../ui/numberField.tsx';
import { Button, toastProblem } from '../ui/pieces.tsx';

/** What is to be looked at of a run: each change is kept at once, and the list below follows. */
export function SheetRule({ run, sheet }: { run: string; sheet: CheckSheet }) {
  const { deliverables, outputs, measured, measuring } = sheet;
  const client = useQueryClient();
  const anew = (): Promise<void> => client.invalidateQueries({ queryKey: ['check sheet', run] });
  const keep = useMutation({
    mutationFn: (changed: CheckRule) => ask(checkRows.sheetRule, { run, body: changed }),
    onSuccess: anew,
    onError: toastProblem,
  });
  // What was just ticked is ticked, though it is not kept yet.
  const rule = keep.isPending ? keep.variables : sheet.rule;
  const measure = useMutation({
    mutationFn: () => ask(checkRows.measureRun, { run, body: { every: 1 } }),
    onSuccess: anew,
    onError: toastProblem,
  });
  const change = (changed: Partial<CheckRule>): void => keep.mutate({ ...rule, ...changed });
  const wanted = rule.deliverables ?? deliverables;
  const left = outputs - measured - measuring;
  return (
    <form className="grid gap-x-8 gap-y-2 sm:grid-cols-2" onSubmit={(event) => event.preventDefault()}>
      <Tick on={rule.ends} onChange={(ends) => change({ ends })}>
        The first and the last of each roll
      </Tick>
      <Tick on={rule.corrected} onChange={(corrected) => change({ corrected })}>
        Everything that was corrected
      </Tick>
      <span className="flex items-center gap-2">
        <TickedNumber
          label="One of every so many clips"
          value={rule.every}
          usual={10}
          most={100_000}
          onChange={(every) => change({ every })}
        >
          One of every
        </TickedNumber>
        clips
      </span>
      <span className="flex flex-wrap items-center gap-2">
        <TickedNumber
          label="So many of the worst of each deliverable"
          value={rule.worst === 0 ? null : rule.worst}
          usual={3}
          most={1_000}
          onChange={(worst) => change({ worst: worst ?? 0 })}
        >
          The worst by measure,
        </TickedNumber>
        <span className="text-dim">
          {measured} of {plural(outputs, 'output')} measured{measuring > 0 && `, ${measuring} to come`}
        </span>
        {left > 0 && (
          <Button disabled={measure.isPending} onClick={() => measure.mutate()}>
            Measure {measured + measuring > 0 ? 'the rest' : 'them'}
          </Button>
        )}
      </span>
      {deliverables.length > 1 && (
        <span className="flex flex-wrap items-center gap-x-4" role="group" aria-label="Of these deliverables">
          <span className="text-dim">Of</span>
          {deliverables.map((one) => (
            <Tick
              key={one}
              on={wanted.includes(one)}
              onChange={(on) => {
                const chosen = deliverables.filter((other) => (other === one ? on : wanted.includes(other)));
                change({ deliverables: chosen.length === deliverables.length ? null : chosen });
              }}
            >
              {one}
            </Tick>
          ))}
        </span>
      )}
      <Tick on={rule.handoff} onChange={(handoff) => change({ handoff })}>
        Handed off only once it is looked at
      </Tick>
    </form>
  );
}

interface TickedNumberProps {
  label: string;
  /** Null where it is not asked for. */
  value: number | null;
  /** What it is when it is ticked. */
  usual: number;
  most: number;
  onChange: (value: number | null) => void;
  children: ReactNode;
}

/** Something that is asked for by a number, or not at all. */
function TickedNumber({ label, value, usual, most, onChange, children }: TickedNumberProps) {
  return (
    <>
      <Tick on={value !== null} onChange={(on) => onChange(on ? usual : null)}>
        {children}
      </Tick>
      {value !== null && (
        <NumberField label={label} value={value} least={1} most={most} whole className="w-20!" onChange={onChange} />
      )}
    </>
  );
}
