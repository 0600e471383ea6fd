import type { Chain } from '../colour/chain/chain.ts';
import type { ShapeCorrection } from '../shape/geometry.ts';
import type { Crop } from '../shape/window.ts';
import type { SoundCorrection } from '../sound/map.ts';
import type { Conform } from '../time/conform.ts';
import { multiply, type Rational } from '../time/rational.ts';
import { over, type ClipCorrections, type Repair, type ScanCorrection } from './corrections.ts';

/**
 * What rules are said of, each by itself: touching one leaves the others as they are. Null says that it is left alone,
 * on purpose.
 */
export interface FieldValues {
  colour: Chain | null;
  squeeze: Rational | null;
  pixelAspect: Rational | null;
  square: NonNullable<ShapeCorrection['square']> | null;
  crop: Crop | null;
  turn: NonNullable<ShapeCorrection['turn']> | null;
  time: Conform | null;
  scan: NonNullable<ScanCorrection['read']> | null;
  deinterlace: NonNullable<ScanCorrection['deinterlaced']> | null;
  sound: SoundCorrection | null;
  repair: Repair | null;
}

export type CorrectionField = keyof FieldValues;

export const correctionFields = [
  'colour',
  'squeeze',
  'pixelAspect',
  'square',
  'crop',
  'turn',
  'time',
  'scan',
  'deinterlace',
  'sound',
  'repair',
] as const satisfies readonly CorrectionField[];

/** What each is called in sentences. */
export const fieldNames: Readonly<Record<CorrectionField, string>> = {
  colour: 'chain',
  squeeze: 'lens squeeze',
  pixelAspect: 'pixel aspect',
  square: 'square pixels',
  crop: 'crop',
  turn: 'turning',
  time: 'frame rate',
  scan: 'scan',
  deinterlace: 'deinterlacing',
  sound: 'sound',
  repair: 'repair',
};

function one<F extends CorrectionField>(field: F, value: FieldValues[F]): ClipCorrections {
  const said = value as unknown;
  switch (field) {
    case 'colour':
      return { colour: said as Chain | null };
    case 'time':
      return { time: said as Conform | null };
    case 'sound':
      return said === null ? {} : { sound: said as SoundCorrection };
    case 'repair':
      return said === null ? {} : { repair: said };
    case 'scan':
      return said === null ? {} : { scan: { read: said as NonNullable<ScanCorrection['read']> } };
    case 'deinterlace':
      return said === null ? {} : { scan: { deinterlaced: said as 'single' | 'double' } };
    default:
      return said === null ? {} : { shape: { [field]: said } };
  }
}

/** The corrections that a set of fields comes to. */
export function fromFields(fields: Partial<FieldValues>): ClipCorrections {
  return correctionFields.reduce<ClipCorrections>(
    (all, field) => (fields[field] === undefined ? all : over(all, one(field, fields[field]))),
    {},
  );
}

/**
 * The pixel aspect that a picture is seen at: what was said of it over what the file says, widened by the lens's
 * squeeze.
 */
export function seenAspect(tagged: Rational, fields: Partial<Pick<FieldValues, 'pixelAspect' | 'squeeze'>>): Rational {
  const pixel = fields.pixelAspect ?? tagged;
  return fields.squeeze ? multiply(pixel, fields.squeeze) : pixel;
}
