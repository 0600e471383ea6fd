import { unwrap } from '../result.ts';
import type { FrameMap } from '../time/frameMap.ts';
import { shownBy } from '../time/frameMap.ts';
import { droppedPerMinute, framesPerDay, framesToTimecode } from '../time/timecode.ts';
import { nominalFramesPerSecond } from '../time/rate.ts';
import type { Rational } from '../time/rational.ts';

/** Text that changes with every frame: a timecode that runs, or a count from 1. */
export type Running =
  | { kind: 'timecode'; start: number; rate: Rational; dropFrame: boolean; map: FrameMap; frames: number }
  | { kind: 'count'; digits: number };

/** Maps by listed times have no formula: their frames cannot be labelled while they are drawn. */
export function canRun(map: FrameMap): boolean {
  return map.kind !== 'times';
}

/** What output frame `n`, counted from 0, is labelled. */
export function labelAt(running: Running, n: number): string {
  if (running.kind === 'count') return String(n + 1).padStart(running.digits, '0');
  const { frame } = shownBy(running.map, n, running.frames);
  return unwrap(framesToTimecode(running.start + frame, running.rate, running.dropFrame)).text;
}

/**
 * The original's frame that output frame `n` shows, as a formula; the same as `shownBy`, which tests hold it against.
 */
function frameFormula(map: FrameMap, frames: number): string {
  const formula = ((): string => {
    switch (map.kind) {
      case 'every':
        return 'n';
      case 'hold':
      case 'blend':
        return `floor(n*${map.ratio.den}/${map.ratio.num})`;
      case 'fields':
        return 'floor(n/2)';
      case 'pulldown-in':
        return 'floor(n/5)*4+gte(mod(n,5),1)+gte(mod(n,5),3)+gte(mod(n,5),4)';
      case 'pulldown-out': {
        const film = [0, 1, 2, 3, 3][map.phase] as number;
        const m = `mod(n+${film},4)`;
        return `floor((n+${film})/4)*5-${map.phase}+gte(${m},1)+gte(${m},2)+2*gte(${m},3)`;
      }
      case 'times':
        throw new RangeError('A map by times has no formula');
    }
  })();
  return `max(0,min(${frames - 1},${formula}))`;
}

/** A field of a label: a formula, and the digits it is written with. */
export interface RunningField {
  formula: string;
  digits: number;
}

/**
 * A label as formulas in `n`, the output's frame counted from 0, with the signs between them. The formulas use + - * /,
 * `floor`, `mod`, `gte`, `min`, `max`, and `st(i,x)`/`ld(i)`, which keep a number for the rest of the formula; `;` goes
 * on to the next.
 * @throws RangeError on a map by times
 */
export function runningFields(running: Running): (RunningField | string)[] {
  if (running.kind === 'count') return [{ formula: 'n+1', digits: running.digits }];
  const { rate, dropFrame, start } = running;
  const nominal = nominalFramesPerSecond(rate);
  const day = framesPerDay(rate, dropFrame);
  const dropped = dropFrame ? droppedPerMinute(rate) : 0;
  const perTen = nominal * 600 - dropped * 9;
  const minute = nominal * 60;
  const frame = `st(0,mod(${start}+${frameFormula(running.map, running.frames)},${day}));`;
  // As framesToTimecode: the first minute of ten drops nothing.
  const label =
    dropped === 0
      ? `${frame}st(3,ld(0));`
      : `${frame}st(1,floor(ld(0)/${perTen}));st(2,ld(0)-ld(1)*${perTen});st(3,ld(0)+${dropped}*(9*ld(1)+gte(ld(2),${minute})*(floor((ld(2)-${minute})/${minute - dropped})+1)));`;
  const field = (formula: string, digits = 2): RunningField => ({ formula: `${label}${formula}`, digits });
  return [
    field(`floor(ld(3)/${nominal * 3600})`),
    ':',
    field(`mod(floor(ld(3)/${minute}),60)`),
    ':',
    field(`mod(floor(ld(3)/${nominal}),60)`),
    dropFrame ? ';' : ':',
    field(`mod(ld(3),${nominal})`, nominal > 100 ? 3 : 2),
  ];
}
