import { fail, ok, type Result } from '../result.ts';
import { formatRaster, type Raster } from '../shape/raster.ts';
import { formatRate } from '../time/rate.ts';
import { equal, rational, type Rational } from '../time/rational.ts';

/** VC-3's HR profiles, SMPTE ST 2019-1: low bandwidth, standard, high quality, high quality with 10 bits, 4:4:4. */
export type Vc3Profile = 'lb' | 'sq' | 'hq' | 'hqx' | '444';

/**
 * Bytes of one HR frame: a share of each macroblock, rounded to 4096, at least 8192. The shares are those of FFmpeg's
 * table for compression ids 1270 to 1274 (from memory, confirmed by the sizes of files made: 188,416 bytes for LB at
 * 1920×1080).
 */
const macroblockShare: Readonly<Record<Vc3Profile, number>> = {
  lb: 5888 / 255,
  sq: 18944 / 255,
  hq: 28672 / 255,
  hqx: 28672 / 255,
  '444': 57344 / 255,
};

export function vc3FrameBytes(profile: Vc3Profile, { width, height }: Raster): number {
  const blocks = Math.ceil(width / 16) * Math.ceil(height / 16);
  return Math.max(8192, Math.round(Math.floor(blocks * macroblockShare[profile]) / 4096) * 4096);
}

/** Grades of VC-3 at HD: about 36, 120 and 180 Mb/s at 25 frames, the last with 8 or 10 bits. */
export type Vc3HdGrade = 'low' | 'standard' | 'high' | 'high-10';

interface HdRow {
  raster: Raster;
  frameBytes: number;
  interlaced: boolean;
  /** Rates in Mb/s by which the grade is known at each frame rate: the encoder is asked by them. */
  megabits: readonly (readonly [Rational, number])[];
}

const [r23, r24, r25, r29, r50, r59] = [
  rational(24000, 1001),
  rational(24),
  rational(25),
  rational(30000, 1001),
  rational(50),
  rational(60000, 1001),
];
const hd: Raster = { width: 1920, height: 1080 };
const hd720: Raster = { width: 1280, height: 720 };

/**
 * SMPTE ST 2019-1, compression ids 1235 to 1253 (rates from memory, each confirmed by FFmpeg's encoder taking it and by
 * the size of what it made).
 */
const table: Readonly<Record<Vc3HdGrade, readonly HdRow[]>> = {
  low: [
    {
      raster: hd,
      frameBytes: 188_416,
      interlaced: false,
      megabits: [
        [r23, 36],
        [r24, 36],
        [r25, 36],
        [r29, 45],
        [r50, 75],
        [r59, 90],
      ],
    },
  ],
  standard: [
    {
      raster: hd,
      frameBytes: 606_208,
      interlaced: false,
      megabits: [
        [r23, 115],
        [r24, 115],
        [r25, 120],
        [r29, 145],
        [r50, 240],
        [r59, 290],
      ],
    },
    {
      raster: hd,
      frameBytes: 606_208,
      interlaced: true,
      megabits: [
        [r25, 120],
        [r29, 145],
      ],
    },
    {
      raster: hd720,
      frameBytes: 303_104,
      interlaced: false,
      megabits: [
        [r23, 60],
        [r24, 60],
        [r25, 60],
        [r29, 75],
        [r50, 120],
        [r59, 145],
      ],
    },
  ],
  high: [
    {
      raster: hd,
      frameBytes: 917_504,
      interlaced: false,
      megabits: [
        [r23, 175],
        [r24, 175],
        [r25, 185],
        [r29, 220],
        [r50, 365],
        [r59, 440],
      ],
    },
    {
      raster: hd,
      frameBytes: 917_504,
      interlaced: true,
      megabits: [
        [r25, 185],
        [r29, 220],
      ],
    },
    {
      raster: hd720,
      frameBytes: 458_752,
      interlaced: false,
      megabits: [
        [r23, 90],
        [r24, 90],
        [r25, 90],
        [r29, 110],
        [r50, 180],
        [r59, 220],
      ],
    },
  ],
  'high-10': [
    {
      raster: hd,
      frameBytes: 917_504,
      interlaced: false,
      megabits: [
        [r23, 175],
        [r24, 175],
        [r25, 185],
        [r50, 365],
        [r59, 440],
      ],
    },
    {
      raster: hd,
      frameBytes: 917_504,
      interlaced: true,
      megabits: [
        [r25, 185],
        [r29, 220],
      ],
    },
    {
      raster: hd720,
      frameBytes: 458_752,
      interlaced: false,
      megabits: [
        [r23, 90],
        [r24, 90],
        [r25, 90],
        [r50, 180],
        [r59, 220],
      ],
    },
  ],
};

/** What VC-3 at HD makes of a picture; fails where there is no such grade at its raster, rate or scan. */
export function vc3Hd(
  grade: Vc3HdGrade,
  raster: Raster,
  rate: Rational,
  interlaced: boolean,
): Result<{ megabits: number; frameBytes: number }> {
  const rows = table[grade].filter((row) => row.raster.width === raster.width && row.raster.height === raster.height);
  if (rows.length === 0) {
    const rasters = [...new Set(table[grade].map((row) => formatRaster(row.raster)))].join(' or ');
    return fail(
      `VC-3 at HD is ${rasters} in this grade, not ${formatRaster(raster)}`,
      'Let the raster be filled up or filled, or take an HR profile, which takes any raster',
    );
  }
  for (const row of rows.filter((one) => one.interlaced === interlaced)) {
    const found = row.megabits.find(([known]) => equal(known, rate));
    if (found) return ok({ megabits: found[1], frameBytes: row.frameBytes });
  }
  return fail(
    `VC-3 at HD has no such grade at ${formatRate(rate)}${interlaced ? ' interlaced' : ''}`,
    'Take an HR profile, or conform the rate',
  );
}
