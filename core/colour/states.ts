import { fail, ok, type Result } from '../result.ts';
import type { Curve } from './curve.ts';
import { curves } from './curves.ts';
import { gamuts } from './gamuts.ts';
import type { Gamut } from './gamut.ts';

/** How numbers stand for colours: a curve and a gamut, freely paired. */
export interface ColourState {
  /** `curve-gamut`, or one of the short names below. */
  id: string;
  name: string;
  curve: Curve;
  gamut: Gamut;
}

/** Pairs that have a name of their own in a standard, and what stands alone because everybody means the same by it. */
const short: Readonly<Record<string, string>> = {
  bt709: 'bt709-bt709',
  bt2020: 'bt2020-bt2020',
  srgb: 'srgb-bt709',
  bt1886: 'bt1886-bt709',
  pq: 'pq-bt2020',
  hlg: 'hlg-bt2020',
  'aces2065-1': 'linear-ap0',
  acescg: 'linear-ap1',
  acescct: 'acescct-ap1',
  acescc: 'acescc-ap1',
};
const shortNames: Readonly<Record<string, string>> = {
  'bt709-bt709': 'BT.709',
  'bt2020-bt2020': 'BT.2020',
  'srgb-bt709': 'sRGB',
  'linear-ap0': 'ACES2065-1',
  'linear-ap1': 'ACEScg',
};
const shortOf = Object.fromEntries(Object.entries(short).map(([name, full]) => [full, name]));

const known = new Map<string, ColourState>();

function stateOf(curve: Curve, gamut: Gamut): ColourState {
  const full = `${curve.id}-${gamut.id}`;
  return { id: shortOf[full] ?? full, name: shortNames[full] ?? `${curve.name}, ${gamut.name}`, curve, gamut };
}

/** The state of a name, such as `slog3-sgamut3cine`, `logc3ei400-awg3`, `vlog-bt2020`, `bt709`. */
export function colourState(name: string): Result<ColourState> {
  const wanted = name.trim().toLowerCase();
  const found = known.get(wanted);
  if (found) return ok(found);
  const [curveId = '', gamutId = '', ...more] = (short[wanted] ?? wanted).split('-');
  const curve = curves.find((one) => one.id === curveId);
  const gamut = gamuts.find((one) => one.id === gamutId);
  if (!curve || !gamut || more.length > 0) {
    return fail(
      `${JSON.stringify(name)} is no colour state${curve ? `: ${JSON.stringify(gamutId)} is no gamut` : ''}`,
      `Give a curve and a gamut, such as slog3-sgamut3cine. Curves: ${curves.map((one) => one.id).join(' ')}. Gamuts: ${gamuts.map((one) => one.id).join(' ')}. Short: ${Object.keys(short).join(' ')}`,
    );
  }
  const state = stateOf(curve, gamut);
  known.set(wanted, state);
  return ok(state);
}

/** States that people choose from first: what cameras record by default, what is worked in, what is looked at. */
export const usualStates: readonly ColourState[] = [
  'slog3-sgamut3cine',
  'slog3-sgamut3',
  'slog2-sgamut3',
  'logc3-awg3',
  'logc4-awg4',
  'clog2-cgamut',
  'clog3-cgamut',
  'clog3-bt2020',
  'vlog-vgamut',
  'vlog-bt2020',
  'log3g10-rwg',
  'nlog-bt2020',
  'flog-bt2020',
  'flog2-bt2020',
  'dlog-dgamut',
  'cineon-bt709',
  'acescct',
  'acescc',
  'acescg',
  'aces2065-1',
  'linear-bt709',
  'linear-bt2020',
  'bt709',
  'bt2020',
  'bt1886',
  'srgb',
  'gamma22-bt709',
  'gamma26-p3d65',
  'pq',
  'hlg',
].flatMap((name) => {
  const state = colourState(name);
  return state.ok ? [state.value] : [];
});
