import { type ClipDescription, isInterlaced } from '@relay/core/clip/description';
import type { Conform } from '@relay/core/time/conform';
import { formatRate, parseRate, standardRates } from '@relay/core/time/rate';
import { equal, formatFraction, rational } from '@relay/core/time/rational';
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

/** Rate, timecode, scan. */
export function TimeForm(props: FormProps) {
  const { clip, measured, onChange } = props;
  const { now, row } = useFieldState(props);
  const video = clip.video as NonNullable<ClipDescription['video']>;
  const time = now('time') ?? null;
  const seen = measured?.picture?.fields ?? null;
  const scan = now('scan') ?? null;
  const say = (next: Conform | null): void => onChange({ time: next });
  const offered = kinds.filter(
    ([kind]) =>
      (video.rateConstant ? kind !== 'constant' : kind === 'none' || kind === 'constant') &&
      (kind !== 'pulldown-out' || equal(video.rate, rational(30000, 1001))) &&
      (kind !== 'pulldown-in' || equal(video.rate, rational(24000, 1001))),
  );
  const begin = (kind: string): void => {
    const rate = time && 'rate' in time ? time.rate : rational(24000, 1001);
    switch (kind) {
      case 'relabel': {
        say({ kind, rate, timecode: 'as labelled', sound: 'stretched' });
        return;
      }
      case 'resample': {
        say({ kind, rate, how: 'hold', timecode: 'as labelled' });
        return;
      }
      case 'pulldown-out':
        // Which field comes first is found with the pattern.
        onChange({
          time: { kind, phase: seen?.phase ?? 0, timecode: 'as labelled' },
          ...(seen?.topFieldFirst === undefined
            ? {}
            : { scan: seen.topFieldFirst ? 'top-field-first' : 'bottom-field-first' }),
        });
        return;
      case 'pulldown-in': {
        say({ kind, timecode: 'as labelled' });
        return;
      }
      case 'constant': {
        say({ kind, rate: rational(25) });
        return;
      }
      default: {
        say(null);
        return;
      }
    }
  };
  const interlaced = isInterlaced(scan ?? video.scan);
  return (
    <>
      <Row
        name={`Frame rate (${video.rateConstant ? formatRate(video.rate) : `varies, ${formatRate(video.rate)} on average`})`}
        {...row('time')}
      >
        <Choice
          label="What becomes of the frames"
          mixed={row('time').mixed}
          value={time?.kind ?? 'none'}
          onChange={begin}
          options={offered}
        />
        {time && 'rate' in time && (
          <div className="flex gap-1.5">
            <select
              aria-label="To"
              value={standardRates.some((one) => equal(one.rate, time.rate)) ? formatFraction(time.rate) : 'other'}
              onChange={(event) => {
                const read = parseRate(event.target.value);
                if (read.ok) say({ ...time, rate: read.value });
              }}
              className="h-8 min-w-0 flex-1 rounded-md border border-line bg-ground px-2 font-mono"
            >
              {standardRates.map((one) => (
                <option key={one.written} value={formatFraction(one.rate)}>
                  {one.written}
                </option>
              ))}
              {!standardRates.some((one) => equal(one.rate, time.rate)) && (
                <option value="other">{formatRate(time.rate)}</option>
              )}
            </select>
            <span className="w-28">
              <Typed
                label="Another rate"
                placeholder="other"
                text=""
                parse={parseRate}
                onValue={(value) => {
                  if (value) say({ ...time, rate: value });
                }}
              />
            </span>
          </div>
        )}
        {time?.kind === 'resample' && (
          <Choice
            label="Frames between"
            value={time.how}
            onChange={(how) => say({ ...time, how })}
            options={[
              ['hold', 'dropped or repeated'],
              ['blend', 'mixed of their neighbours'],
            ]}
          />
        )}
        {time?.kind === 'pulldown-out' && (
          <Choice
            label="The first frame in the pattern"
            value={String(time.phase)}
            onChange={(phase) => say({ ...time, phase: Number(phase) })}
            options={['AA', 'BB', 'BC', 'CD', 'DD'].map(
              (name, phase) =>
                [String(phase), `begins with ${name}${seen?.phase === phase ? ', as found' : ''}`] as const,
            )}
          />
        )}
        {time?.kind === 'relabel' && (
          <Choice
            label="Its sound"
            value={time.sound}
            onChange={(sound) => say({ ...time, sound })}
            options={[
              ['stretched', 'sound stretched with it, pitch moves'],
              ['pitch kept', 'sound stretched, pitch kept'],
              ['dropped', 'sound left out'],
            ]}
          />
        )}
        {time && 'timecode' in time && (
          <Choice
            label="Start timecode"
            value={time.timecode}
            onChange={(timecode) => say({ ...time, timecode })}
            options={[
              ['as labelled', 'timecode as labelled'],
              ['recounted', 'timecode recounted from midnight'],
            ]}
          />
        )}
      </Row>
      <Row name={`Scan (the file says ${video.scan.replaceAll('-', ' ')})`} {...row('scan')}>
        {seen && seen.seen !== 'still' && (
          <p className="text-[12px] text-dim">
            Seen: {seen.seen === 'pulldown' ? '2:3 pulldown' : seen.seen.replaceAll('-', ' ')},{' '}
            {Math.round(seen.confidence * 100)} % of {seen.judged} moving pictures
          </p>
        )}
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
      {interlaced && (
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
