import { isInterlaced, type VideoDescription } from '@relay/core/clip/description';
import type { FieldValues } from '@relay/core/corrections/fields';
import type { ScanMeasure } from '@relay/core/measure/fields';
import type { Conform } from '@relay/core/time/conform';
import { formatRate, parseRate, standardRates } from '@relay/core/time/rate';
import { equal, formatFraction, rational, type Rational } from '@relay/core/time/rational';
import { inputLook } from '../ui/pieces.tsx';
import { Choice, Row } from './row.tsx';
import { type FormProps, useFieldState } from './formProps.ts';
import { Typed } from './typed.tsx';

const kinds: readonly (readonly [Conform['kind'] | 'none', string])[] = [
  ['none', 'as it is, every frame once'],
  ['relabel', 'every frame kept, played at another rate'],
  ['resample', 'another rate, duration kept'],
  ['pulldown-out', '2:3 pulldown taken out'],
  ['pulldown-in', '2:3 pulldown put in'],
  ['constant', 'a varying rate made constant'],
];

/** What can become of a clip's frames. */
function offeredFor({ rate, rateConstant }: VideoDescription): typeof kinds {
  return kinds.filter(
    ([kind]) =>
      (rateConstant ? kind !== 'constant' : kind === 'none' || kind === 'constant') &&
      (kind !== 'pulldown-out' || equal(rate, rational(30000, 1001))) &&
      (kind !== 'pulldown-in' || equal(rate, rational(24000, 1001))),
  );
}

/** A conform of a kind as it begins, with the rate that was said already, and the scan that goes with it. */
function begun(kind: Conform['kind'] | 'none', rate: Rational, seen: ScanMeasure | null): Partial<FieldValues> {
  switch (kind) {
    case 'relabel':
      return { time: { kind, rate, timecode: 'as labelled', sound: 'stretched' } };
    case 'resample':
      return { time: { kind, rate, how: 'hold', timecode: 'as labelled' } };
    case 'pulldown-out': {
      const time = { kind, phase: seen?.phase ?? 0, timecode: 'as labelled' } as const;
      // Which field comes first is found with the pattern.
      if (seen?.topFieldFirst === undefined) return { time };
      return { time, scan: seen.topFieldFirst ? 'top-field-first' : 'bottom-field-first' };
    }
    case 'pulldown-in':
      return { time: { kind, timecode: 'as labelled' } };
    case 'constant':
      return { time: { kind, rate: rational(25) } };
    case 'none':
      return { time: null };
  }
}

/** A rate of film and television, or another that is typed. */
function RateChoice({ rate, onRate }: { rate: Rational; onRate: (rate: Rational) => void }) {
  const standard = standardRates.some((one) => equal(one.rate, rate));
  return (
    <div className="flex gap-1.5">
      <select
        aria-label="To"
        value={standard ? formatFraction(rate) : 'other'}
        onChange={(event) => {
          const read = parseRate(event.target.value);
          if (read.ok) onRate(read.value);
        }}
        className={`${inputLook} flex-1 font-mono`}
      >
        {standardRates.map((one) => (
          <option key={one.written} value={formatFraction(one.rate)}>
            {one.written}
          </option>
        ))}
        {!standard && <option value="other">{formatRate(rate)}</option>}
      </select>
      <span className="w-28">
        <Typed
          label="Another rate"
          placeholder="other"
          text=""
          parse={parseRate}
          onValue={(value) => {
            if (value) onRate(value);
          }}
        />
      </span>
    </div>
  );
}

/** What is still to be said of a conform of its kind. */
function ConformDetails({
  time,
  seen,
  onSay,
}: {
  time: Conform;
  seen: ScanMeasure | null;
  onSay: (time: Conform) => void;
}) {
  return (
    <>
      {'rate' in time && <RateChoice rate={time.rate} onRate={(rate) => onSay({ ...time, rate })} />}
      {time.kind === 'resample' && (
        <Choice
          label="Frames between"
          value={time.how}
          onChange={(how) => onSay({ ...time, how })}
          options={[
            ['hold', 'dropped or repeated'],
            ['blend', 'mixed of their neighbours'],
          ]}
        />
      )}
      {time.kind === 'pulldown-out' && (
        <Choice
          label="The first frame in the pattern"
          value={String(time.phase)}
          onChange={(phase) => onSay({ ...time, phase: Number(phase) })}
          options={['AA', 'BB', 'BC', 'CD', 'DD'].map(
            (name, phase) =>
              [String(phase), `begins with ${name}${seen?.phase === phase ? ', as found' : ''}`] as const,
          )}
        />
      )}
      {time.kind === 'relabel' && (
        <Choice
          label="Its sound"
          value={time.sound}
          onChange={(sound) => onSay({ ...time, sound })}
          options={[
            ['stretched', 'sound stretched with it, pitch moves'],
            ['pitch kept', 'sound stretched, pitch kept'],
            ['dropped', 'sound left out'],
          ]}
        />
      )}
      {'timecode' in time && (
        <Choice
          label="Start timecode"
          value={time.timecode}
          onChange={(timecode) => onSay({ ...time, timecode })}
          options={[
            ['as labelled', 'timecode as labelled'],
            ['recounted', 'timecode recounted from midnight'],
          ]}
        />
      )}
    </>
  );
}

/** What consecutive pictures show of their scan. */
function SeenScan({ seen: { seen, confidence, judged } }: { seen: ScanMeasure }) {
  return (
    <p className="text-[12px] text-dim">
      Seen: {seen === 'pulldown' ? '2:3 pulldown' : seen.replaceAll('-', ' ')}, {Math.round(confidence * 100)} % of{' '}
      {judged} moving pictures
    </p>
  );
}

/** Rate, timecode, scan. */
export function TimeForm(props: FormProps) {
  const { clip, measured, onChange } = props;
  const { now, row } = useFieldState(props);
  const video = clip.video as VideoDescription;
  const time = now('time') ?? null;
  const seen = measured?.picture?.fields ?? null;
  const scan = now('scan') ?? null;
  const rate = time && 'rate' in time ? time.rate : rational(24000, 1001);
  const stated = video.rateConstant ? formatRate(video.rate) : `varies, ${formatRate(video.rate)} on average`;
  return (
    <>
      <Row name={`Frame rate (${stated})`} {...row('time')}>
        <Choice
          label="What becomes of the frames"
          mixed={row('time').mixed}
          value={time?.kind ?? 'none'}
          onChange={(kind) => onChange(begun(kind, rate, seen))}
          options={offeredFor(video)}
        />
        {time && <ConformDetails time={time} seen={seen} onSay={(next) => onChange({ time: next })} />}
      </Row>
      <Row name={`Scan (the file says ${video.scan.replaceAll('-', ' ')})`} {...row('scan')}>
        {seen && seen.seen !== 'still' && <SeenScan seen={seen} />}
        <Choice
          label="Scan"
          mixed={row('scan').mixed}
          value={scan ?? 'file'}
          onChange={(value) => onChange({ scan: value === 'file' ? null : value })}
          options={[
            ['file', 'as the file says'],
            ['progressive', 'whole pictures'],
            ['top-field-first', 'fields, top first'],
            ['bottom-field-first', 'fields, bottom first'],
          ]}
        />
      </Row>
      {isInterlaced(scan ?? video.scan) && (
        <Row name="Where it is deinterlaced" {...row('deinterlace')}>
          <Choice
            label="Where it is deinterlaced"
            mixed={row('deinterlace').mixed}
            value={now('deinterlace') ?? 'single'}
            onChange={(value) => onChange({ deinterlace: value })}
            options={[
              ['single', 'one picture of two fields'],
              ['double', 'a picture of each field, twice the rate'],
            ]}
          />
        </Row>
      )}
    </>
  );
}
