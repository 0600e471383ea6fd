import type { Along } from '@relay/core/measure/along';
import type { Problem } from '@relay/core/result';
import { EntitySchema } from 'typeorm';
import { id, json, jsonText, now, text, time } from './columns.ts';

/** What was measured along an output, or is to be. */
export interface MeasuringRow {
  id: string;
  outputId: string;
  /** Of what was measured. */
  xxh3: string | null;
  every: number;
  state: 'waiting' | 'running' | 'measured' | 'failed';
  framesDone: number;
  problem: Problem | null;
  worstFrame: number | null;
  /** Null where it is equal. */
  worstPsnr: number | null;
  worstSsim: number | null;
  meanPsnr: number | null;
  along: Along | null;
  who: string;
  beatAt: Date | null;
  createdAt: Date;
}

const real = { type: 'double precision', nullable: true } as const;

export const measuring = new EntitySchema<MeasuringRow>({
  name: 'measuring',
  tableName: 'measuring',
  columns: {
    id,
    outputId: { type: 'uuid', name: 'output_id', unique: true },
    xxh3: text(true),
    every: { type: 'int' },
    state: { ...text(), default: 'waiting' },
    framesDone: { type: 'int', default: 0, name: 'frames_done' },
    problem: json(true),
    worstFrame: { type: 'int', nullable: true, name: 'worst_frame' },
    worstPsnr: { ...real, name: 'worst_psnr' },
    worstSsim: { ...real, name: 'worst_ssim' },
    meanPsnr: { ...real, name: 'mean_psnr' },
    along: jsonText(true),
    who: text(),
    beatAt: { ...time, name: 'beat_at' },
    createdAt: { ...now, name: 'created_at' },
  },
});
