import { isInterlaced } from '@relay/core/clip/description';
import type { OutputPlan } from '@relay/core/recipe/plan';
import type { ProResProfile } from '@relay/core/size/prores';
import { toNumber } from '@relay/core/time/rational';
import type { LaidBurn } from '../burn/lay.ts';

/** What was found out about the material before encoding; apart from the plan, which says only what must come out. */
export interface Tuning {
  /** ProRes: the constant quantiser, 1 to 64. */
  quantiser?: number;
  /** The chain of this output, baked to a .cube file: 16-bit legal codes in and out. */
  lut?: string;
  /** What is laid over this output's pictures, drawn and ready. */
  burn?: LaidBurn;
  /** How the camera shook, found in a first pass: a file for the stabilising filter. */
  shake?: string;
}

const proResProfileNumber: Readonly<Record<ProResProfile, number>> = { proxy: 0, lt: 1, '422': 2, hq: 3, '4444': 4, '4444xq': 5 };

/** The encoder's arguments for one output's picture: one builder for each codec. */
export function encoderArguments(output: OutputPlan, tuning: Tuning): string[] {
  const { codec, video } = output;
  switch (codec.id) {
    case 'prores':
      return [
        '-c:v', 'prores_ks', '-profile:v', String(proResProfileNumber[codec.profile]), ...(tuning.quantiser ? ['-q:v', String(tuning.quantiser)] : []),
        ...(isInterlaced(video.scan) ? ['-flags', '+ildct', '-top', video.scan === 'top-field-first' ? '1' : '0'] : []),
      ];
    case 'h264': {
      // Half a second between whole pictures, so that a cutting program finds any frame quickly.
      const group = Math.max(1, Math.round(toNumber(video.rate) / 2));
      return [
        '-c:v', 'libx264', '-preset', 'veryfast', '-profile:v', 'high', '-crf', String(codec.quality),
        '-g', String(group), '-bf', '2', '-x264-params', 'open-gop=0:log-level=error',
      ];
    }
  }
}
