import type { LutLine } from '@relay/contract/colour';
import type { Chain, ChainStep } from '@relay/core/colour/chain/chain';
import { displayOf } from '@relay/core/colour/rendering/display';
import { colourState } from '@relay/core/colour/states';
import { ChevronDown, ChevronUp, Eye, EyeOff, X } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { CdlFields } from './cdlFields.tsx';
import { changed, moved, without } from './draft.ts';
import type { LaneStop } from './messages.ts';
import { LevelShape } from '../ui/levelMark.tsx';
import { StateSelect } from '../ui/stateSelect.tsx';

interface LaneProps {
  chain: Chain;
  /** The picture's way as core planned it, conversions among it. */
  stops: readonly LaneStop[];
  luts: readonly LutLine[];
  onChange: (chain: Chain) => void;
}

/** The chain as the lane that the picture travels, from what the camera recorded to what is looked at. */
export function Lane({ chain, stops, luts, onChange }: LaneProps) {
  const [open, setOpen] = useState<string | null>(null);
  const conversionsBefore = (id: string | null): LaneStop[] => {
    const end = id === null ? stops.length : stops.findIndex((stop) => stop.id === id);
    if (end < 0) return [];
    let start = end;
    while (start > 0 && stops[start - 1]?.kind === 'conversion') start -= 1;
    return stops.slice(start, end);
  };
  const output = chain.output === null ? null : colourState(chain.output);
  const canRender = output?.ok === true && displayOf(output.value) !== null;
  return (
    <ol aria-label="Chain" className="relative">
      <span aria-hidden className="absolute top-3 bottom-6 left-[5px] border-x border-lane px-[3px]" />
      <Stop tone="bg-sky" title="As the camera recorded">
        <StateSelect
          label="As the camera recorded"
          value={chain.input}
          none="Nobody said"
          onChange={(input) => onChange({ ...chain, input })}
        />
        {chain.input !== null && (
          <label className="mt-1 flex items-center gap-2 text-dim">
            <input
              type="checkbox"
              checked={chain.inputRange === 'legal'}
              onChange={(event) => onChange({ ...chain, inputRange: event.target.checked ? 'legal' : 'full' })}
              className="accent-(--sky)"
            />
            its codes stand in the file as they are
          </label>
        )}
      </Stop>
      {chain.steps.map((step, index) => (
        <StepStops
          key={step.id}
          step={step}
          index={index}
          last={chain.steps.length - 1}
          conversions={step.muted ? [] : conversionsBefore(step.id)}
          note={stops.find((stop) => stop.id === step.id)?.note}
          lut={luts.find((lut) => step.kind === 'lut' && lut.hash === step.lut)}
          open={open === step.id}
          onOpen={() => setOpen(open === step.id ? null : step.id)}
          chain={chain}
          onChange={onChange}
        />
      ))}
      {conversionsBefore(null).map((stop) => (
        <Conversion key={stop.name} stop={stop} />
      ))}
      <Stop tone="bg-teal" title="As it is looked at">
        <StateSelect
          label="As it is looked at"
          value={chain.output}
          none="As the last step gives it"
          onChange={(next) => onChange({ ...chain, output: next })}
        />
        {canRender && (
          <label className="mt-1 flex items-center gap-2 text-dim">
            <input
              type="checkbox"
              checked={chain.rendering === 'estuary'}
              onChange={(event) => onChange({ ...chain, rendering: event.target.checked ? 'estuary' : null })}
              className="accent-(--teal)"
            />
            scene light shown by the rendering <em className="not-italic text-ink">estuary</em>
          </label>
        )}
      </Stop>
    </ol>
  );
}

/** One stop of the lane: a piece of it in colour, and what happens there. */
function Stop({
  tone,
  title,
  children,
  controls,
  muted = false,
}: {
  tone: string;
  title: ReactNode;
  children?: ReactNode;
  controls?: ReactNode;
  muted?: boolean;
}) {
  return (
    <li className="relative mb-3 grid grid-cols-[1rem_1fr] gap-2.5">
      <span
        aria-hidden
        className={`relative mt-0.5 h-5 w-3 rounded-full ${muted ? 'border border-lane bg-sheet' : tone}`}
      />
      <div className="min-w-0">
        <div className="flex items-center gap-1">
          <span className={`min-w-0 flex-1 truncate font-semibold ${muted ? 'text-faint line-through' : ''}`}>
            {title}
          </span>
          {controls}
        </div>
        {children}
      </div>
    </li>
  );
}

/** A conversion that stands between two stated ends. */
function Conversion({ stop }: { stop: LaneStop }) {
  return (
    <li className="relative mb-3 grid grid-cols-[1rem_1fr] gap-2.5 text-dim">
      <span aria-hidden className="relative mt-2 ml-[3px] size-1.5 rounded-full bg-dim" />
      <span className="min-w-0">
        <span className="block">{stop.name}</span>
        <span className="block text-faint">{stop.note}, put in by itself</span>
      </span>
    </li>
  );
}

interface StepProps {
  step: ChainStep;
  index: number;
  last: number;
  conversions: readonly LaneStop[];
  note: string | undefined;
  lut: LutLine | undefined;
  open: boolean;
  onOpen: () => void;
  chain: Chain;
  onChange: (chain: Chain) => void;
}

function StepStops({ step, index, last, conversions, note, lut, open, onOpen, chain, onChange }: StepProps) {
  const icon =
    'flex size-6 items-center justify-center rounded text-dim hover:bg-raised hover:text-ink disabled:opacity-30';
  const controls = (
    <>
      <button
        type="button"
        className={icon}
        aria-label={`${step.name} earlier`}
        disabled={index === 0}
        onClick={() => onChange(moved(chain, step.id, -1))}
      >
        <ChevronUp className="size-3.5" aria-hidden />
      </button>
      <button
        type="button"
        className={icon}
        aria-label={`${step.name} later`}
        disabled={index === last}
        onClick={() => onChange(moved(chain, step.id, 1))}
      >
        <ChevronDown className="size-3.5" aria-hidden />
      </button>
      <button
        type="button"
        className={icon}
        aria-label={`Mute ${step.name}`}
        aria-pressed={step.muted}
        onClick={() => onChange(changed(chain, step.id, { muted: !step.muted }))}
      >
        {step.muted ? <EyeOff className="size-3.5" aria-hidden /> : <Eye className="size-3.5" aria-hidden />}
      </button>
      <button
        type="button"
        className={icon}
        aria-label={`Take ${step.name} out`}
        onClick={() => onChange(without(chain, step.id))}
      >
        <X className="size-3.5" aria-hidden />
      </button>
    </>
  );
  return (
    <>
      {conversions.map((stop) => (
        <Conversion key={stop.name} stop={stop} />
      ))}
      <Stop
        tone="bg-clay"
        muted={step.muted}
        controls={controls}
        title={
          <button type="button" aria-expanded={open} onClick={onOpen} className="max-w-full truncate hover:underline">
            {step.name}
          </button>
        }
      >
        <p className="text-dim">
          {step.muted ? 'muted' : (note ?? '')}
          {step.kind === 'lut' && lut && !lut.sound && (
            <span className="ml-1 inline-flex items-center gap-1">
              <LevelShape level="decide" />
              {lut.toDecide} to decide
            </span>
          )}
        </p>
        {open && step.kind === 'cdl' && (
          <div className="mt-1.5 flex flex-col gap-1.5">
            <CdlFields cdl={step.cdl} onChange={(cdl) => onChange(changed(chain, step.id, { cdl }))} />
            <span className="grid grid-cols-[4.5rem_1fr] items-center gap-1.5">
              <span className="text-dim">Works in</span>
              <StateSelect
                label={`${step.name} works in`}
                value={step.worksIn}
                none="the state before it"
                onChange={(worksIn) => onChange(changed(chain, step.id, { worksIn }))}
              />
            </span>
          </div>
        )}
        {open && step.kind === 'lut' && (
          <div className="mt-1.5 grid grid-cols-[4.5rem_1fr] items-center gap-1.5">
            <span className="text-dim">Takes</span>
            <StateSelect
              label={`${step.name} takes`}
              value={step.takes}
              none="as it comes"
              onChange={(takes) => onChange(changed(chain, step.id, { takes }))}
            />
            <span className="text-dim">Gives</span>
            <StateSelect
              label={`${step.name} gives`}
              value={step.gives}
              none="as it comes"
              onChange={(gives) => onChange(changed(chain, step.id, { gives }))}
            />
            {(['rangeIn', 'rangeOut'] as const).map((side) => [
              <span key={side} className="text-dim">
                {side === 'rangeIn' ? 'Range in' : 'Range out'}
              </span>,
              <select
                key={`${side} choice`}
                aria-label={`${step.name}, ${side === 'rangeIn' ? 'range in' : 'range out'}`}
                value={step[side]}
                onChange={(event) =>
                  onChange(changed(chain, step.id, { [side]: event.target.value as 'full' | 'legal' }))
                }
                className="h-7 rounded border border-line bg-ground px-1.5"
              >
                <option value="full">full</option>
                <option value="legal">legal</option>
              </select>,
            ])}
          </div>
        )}
      </Stop>
    </>
  );
}
