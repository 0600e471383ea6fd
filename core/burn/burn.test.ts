import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { unwrap } from '../result.ts';
import { planConform } from '../time/conform.ts';
import type { FrameMap } from '../time/frameMap.ts';
import { rational } from '../time/rational.ts';
import { framesPerDay } from '../time/timecode.ts';
import { burnt } from './area.ts';
import { leastContrast, plateContrast, plateStrength } from './contrast.ts';
import { drawable, fontFileOf } from './font.ts';
import { checkLayout, viewingLayout, type BurnLayout, type BurnLine } from './layout.ts';
import { planBurn, type BurnRunning } from './plan.ts';
import { pngSize } from './png.ts';
import { canRun, labelAt, runningFields, type Running } from './running.ts';

const hd = { width: 1920, height: 1080 };
const timecode = (map: FrameMap, frames = 1000, rate = rational(25), start = 0, dropFrame = false): Running => ({
  kind: 'timecode',
  start,
  rate,
  dropFrame,
  map,
  frames,
});
const running: BurnRunning = {
  source: timecode({ kind: 'every' }, 1000, rational(25), 90_000),
  record: null,
  frame: { kind: 'count', digits: 5 },
};
const layoutOf = (lines: BurnLine[], rest: Partial<BurnLayout> = {}): BurnLayout => ({ size: 'usual', lines, ...rest });
const words = (text: string): BurnLine['pieces'] => [{ kind: 'text', text }];

/** The formulas as FFmpeg's `eval` reads them, worked out by JavaScript itself. */
function evaluated(fields: ReturnType<typeof runningFields>, n: number): string {
  return fields
    .map((field) => {
      if (typeof field === 'string') return field;
      const kept: number[] = [];
      // FFmpeg's expression, which we wrote, is JavaScript too.
      // eslint-disable-next-line @typescript-eslint/no-implied-eval, @typescript-eslint/no-unsafe-call
      const value = new Function(
        'n',
        'floor',
        'mod',
        'gte',
        'min',
        'max',
        'st',
        'ld',
        `return (${field.formula.replaceAll(';', ',')})`,
      )(
        n,
        Math.floor,
        (a: number, b: number) => a - Math.floor(a / b) * b,
        (a: number, b: number) => Number(a >= b),
        Math.min,
        Math.max,
        (i: number, x: number) => {
          kept[i] = x;
          return x;
        },
        (i: number) => kept[i],
      ) as number;
      return String(value).padStart(field.digits, '0');
    })
    .join('');
}

describe('running labels', () => {
  const maps: FrameMap[] = [
    { kind: 'every' },
    { kind: 'fields' },
    { kind: 'pulldown-in' },
    ...[0, 1, 2, 3, 4].map((phase): FrameMap => ({ kind: 'pulldown-out', phase })),
    { kind: 'hold', ratio: rational(1000, 1001) },
    { kind: 'hold', ratio: rational(25_025, 24_000) },
    { kind: 'blend', ratio: rational(5, 4) },
    { kind: 'hold', ratio: rational(2, 5) },
  ];
  it('are the formulas of the exact map and of SMPTE ST 12-1, at every rate, with and without drop-frame, past midnight', () => {
    const rates = [
      [rational(24_000, 1001), false],
      [rational(25), false],
      [rational(30_000, 1001), true],
      [rational(60_000, 1001), true],
      [rational(120_000, 1001), true],
      [rational(120), false],
    ] as const;
    fc.assert(
      fc.property(
        fc.constantFrom(...maps),
        fc.constantFrom(...rates),
        fc.nat(),
        fc.integer({ min: 1, max: 400_000 }),
        fc.nat(),
        (map, [rate, dropFrame], begin, frames, at) => {
          const one = timecode(map, frames, rate, begin % framesPerDay(rate, dropFrame), dropFrame);
          const n = at % (frames * 2);
          expect(evaluated(runningFields(one), n)).toBe(labelAt(one, n));
        },
      ),
      { numRuns: 2000 },
    );
  });

  it('begin at the start, wrap at midnight and leave out what drop-frame leaves out (ST 12-1, 29.97: 00:00:59;29 is followed by 00:01:00;02)', () => {
    const day = framesPerDay(rational(30_000, 1001), true);
    expect(labelAt(timecode({ kind: 'every' }, 9999, rational(30_000, 1001), 1799, true), 1)).toBe('00:01:00;02');
    expect(
      [0, 1].map((n) => labelAt(timecode({ kind: 'every' }, 9, rational(30_000, 1001), day - 1, true), n)),
    ).toEqual(['23:59:59;29', '00:00:00;00']);
    expect(labelAt({ kind: 'count', digits: 5 }, 0)).toBe('00001');
  });

  it('of a real conform name the frame shown: 50 made 25 shows every second', () => {
    const { map } = unwrap(
      planConform(
        { rate: rational(50), rateConstant: true, frames: 100, duration: rational(2) },
        { kind: 'resample', rate: rational(25), how: 'hold', timecode: 'as labelled' },
      ),
    );
    expect([0, 1, 2].map((n) => labelAt(timecode(map, 100, rational(50)), n))).toEqual([
      '00:00:00:00',
      '00:00:00:02',
      '00:00:00:04',
    ]);
    expect(canRun({ kind: 'times', places: [0, 1] })).toBe(false);
  });
});

describe('plates', () => {
  it('keep a contrast of 4.5:1 over any legal picture (WCAG 2, success criterion 1.4.3), in SDR, PQ and HLG', () => {
    for (const transfer of [null, 'bt709', 'smpte2084', 'arib-std-b67'])
      expect(plateContrast(transfer)).toBeGreaterThan(leastContrast);
    // The check can fail: half as opaque is not enough.
    expect(plateContrast('bt709', plateStrength / 2)).toBeLessThan(leastContrast);
  });
});

describe('a layout on a raster', () => {
  it('stands within the safe area, on even samples, plates not meeting, whatever the words and the raster', () => {
    const line = fc.record({
      at: fc.constantFrom(
        'top left',
        'top',
        'top right',
        'left',
        'centre',
        'right',
        'bottom left',
        'bottom',
        'bottom right',
      ),
      pieces: fc.string({ minLength: 1, maxLength: 120 }).map((text) => words(`${text}.`)),
    }) as fc.Arbitrary<BurnLine>;
    fc.assert(
      fc.property(
        fc.array(line, { maxLength: 6 }),
        fc.constantFrom(
          hd,
          { width: 1280, height: 720 },
          { width: 960, height: 540 },
          { width: 1080, height: 1920 },
          { width: 720, height: 576 },
          { width: 3996, height: 2160 },
        ),
        (lines, raster) => {
          if (!checkLayout(layoutOf(lines)).ok) return;
          const { boxes } = planBurn(layoutOf(lines), raster, {}, running, null);
          expect(boxes.length).toBe(lines.length);
          for (const { plate, runs, fontSize } of boxes) {
            expect([plate.x % 2, plate.y % 2, plate.width % 2, plate.height % 2]).toEqual([0, 0, 0, 0]);
            expect(plate.x).toBeGreaterThanOrEqual(Math.floor(raster.width * 0.05) - 2);
            expect(plate.x + plate.width).toBeLessThanOrEqual(Math.ceil(raster.width * 0.95) + 2);
            const end = Math.max(...runs.map((run) => run.x + run.text.length * 0.6 * fontSize));
            expect(end).toBeLessThanOrEqual(plate.x + plate.width);
          }
          for (const [i, a] of boxes.entries()) {
            for (const b of boxes.slice(i + 1)) {
              const apart =
                a.plate.x >= b.plate.x + b.plate.width ||
                b.plate.x >= a.plate.x + a.plate.width ||
                a.plate.y >= b.plate.y + b.plate.height ||
                b.plate.y >= a.plate.y + a.plate.height;
              expect(apart).toBe(true);
            }
          }
        },
      ),
      { numRuns: 400 },
    );
  });

  it('leaves out lines whose facts are not known, and keeps words with those that are', () => {
    const layout = layoutOf([
      {
        at: 'top',
        pieces: [
          { kind: 'text', text: 'Scene' },
          { kind: 'fact', fact: 'scene' },
        ],
      },
      { at: 'bottom', pieces: [{ kind: 'fact', fact: 'record' }] },
      { at: 'left', pieces: [{ kind: 'fact', fact: 'source' }] },
    ]);
    const said = (scene: string | null): string[] =>
      planBurn(layout, hd, { scene }, running, null).boxes.map((box) => box.runs.map((run) => run.text).join(''));
    expect(said(null)).toEqual(['01:00:00:00']);
    expect(said('14A')).toEqual(['Scene 14A', '01:00:00:00']);
  });

  it("draws data as text: what looks like the filter's own words stays as it is, what the font lacks is a ?", () => {
    const odd = "%{n} it's \\: ,;[x] $(id)";
    expect(planBurn(layoutOf([{ at: 'top', pieces: words(odd) }]), hd, {}, running, null).boxes[0]?.runs[0]?.text).toBe(
      odd,
    );
    expect(drawable('Łódź e\u0301 雨\u0000\u202e\n!')).toBe('Łódź é ? !');
    expect([fontFileOf('Ł'), fontFileOf('a'), fontFileOf('雨')]).toEqual(['latin-ext', 'latin', null]);
  });

  it('marks across from corner to corner, or as one more plated line; each is known to be burnt there', () => {
    const mark = {
      at: 'top right',
      strength: 'clear',
      pieces: [{ kind: 'fact', fact: 'recipient' }],
      recipients: ['Ada Quill'],
    } as const;
    const across = planBurn(
      layoutOf([], { mark: { as: 'across', ...mark, pieces: [...mark.pieces], recipients: [...mark.recipients] } }),
      hd,
      { recipient: 'Ada Quill' },
      running,
      null,
    );
    expect([across.across?.text, across.across?.degrees.toFixed(1)]).toEqual(['Ada Quill', '-29.4']);
    expect([
      burnt(across, { x: 955, y: 535, width: 10, height: 10 }, 0),
      burnt(across, { x: 10, y: 10, width: 10, height: 10 }, 0),
      burnt(null, { x: 0, y: 0, width: 9, height: 9 }, 0),
    ]).toEqual([true, false, false]);
    // Turned about the frame's middle: what lies somewhere lies opposite as well.
    const lies = (x: number, y: number): boolean => burnt(across, { x, y, width: 40, height: 20 }, 0);
    let [drawn, free] = [0, 0];
    for (let x = 0; x < 1920; x += 40)
      for (let y = 0; y < 1080; y += 20) {
        expect([x, y, lies(x, y)]).toEqual([x, y, lies(1880 - x, 1060 - y)]);
        if (lies(x, y)) drawn += 1;
        else free += 1;
      }
    expect(drawn).toBeGreaterThan(100);
    expect(free).toBeGreaterThan(drawn);
    const corner = planBurn(
      layoutOf([], { mark: { as: 'corner', ...mark, pieces: [...mark.pieces], recipients: [] } }),
      hd,
      { recipient: 'Ada Quill' },
      running,
      null,
    );
    expect([corner.across, corner.boxes[0]?.runs[0]?.text, corner.boxes[0]?.at]).toEqual([
      null,
      'Ada Quill',
      'top right',
    ]);
    const image = planBurn(
      layoutOf([], {
        image: { image: 'k', width: 300, height: 100, at: 'bottom right', share: 0.25, opacity: 1, frames: 50 },
      }),
      hd,
      {},
      running,
      null,
    );
    expect(image.image?.at).toEqual({ x: 1344, y: 866, width: 480, height: 160 });
    expect([
      burnt(image, { x: 1400, y: 900, width: 8, height: 8 }, 49),
      burnt(image, { x: 1400, y: 900, width: 8, height: 8 }, 50),
    ]).toEqual([true, false]);
  });

  it('is refused where it cannot be: five lines at a place, recipients who would share a folder or have none', () => {
    const mark = (recipients: string[]): BurnLayout =>
      layoutOf([], { mark: { as: 'across', at: 'centre', strength: 'faint', pieces: words('x'), recipients } });
    expect(
      checkLayout(
        layoutOf(
          Array.from({ length: 5 }, () => ({ at: 'top', pieces: words('a') }) as const).map((one) => ({ ...one })),
        ),
      ),
    ).toMatchObject({ ok: false });
    for (const recipients of [['Ada Quill', 'ada quill'], ['A/B', 'AB'], ['...']])
      expect(checkLayout(mark(recipients))).toMatchObject({ ok: false });
    expect(checkLayout(viewingLayout).ok && checkLayout(mark(['Ada', 'Brim'])).ok).toBe(true);
  });
});

it('knows a PNG by its header alone, and refuses what is none or too large', () => {
  const png = Uint8Array.from(
    Buffer.from(
      'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
      'base64',
    ),
  );
  expect(pngSize(png)).toEqual({ ok: true, value: { width: 1, height: 1 } });
  const large = Uint8Array.from(png);
  new DataView(large.buffer).setUint32(16, 9000);
  for (const bad of [new Uint8Array(0), png.subarray(0, 20), Uint8Array.from([0xff, 0xd8, ...png]), large])
    expect(pngSize(bad).ok).toBe(false);
});
