import type { ColourTags } from '../clip/description.ts';
import type { ColourState } from './states.ts';

/**
 * Curves and gamuts that ITU-T H.273 has a name for, as FFmpeg prints it. A camera's log has none, and is then tagged
 * as nothing rather than as something it is not.
 */
const transfers: Readonly<Record<string, string>> = {
  bt709: 'bt709',
  bt1886: 'bt709',
  gamma24: 'bt709',
  bt2020: 'bt2020-10',
  srgb: 'iec61966-2-1',
  gamma22: 'bt470m',
  pq: 'smpte2084',
  hlg: 'arib-std-b67',
  linear: 'linear',
};
const primaries: Readonly<Record<string, string>> = {
  bt709: 'bt709',
  bt2020: 'bt2020',
  bt601: 'smpte170m',
  p3dci: 'smpte431',
  p3d65: 'smpte432',
};

/**
 * The tags of a picture in a state: what it is now. BT.2020 is coded with its own matrix, everything else with
 * BT.709's.
 */
export function tagsOf(state: ColourState): ColourTags {
  return {
    primaries: primaries[state.gamut.id] ?? null,
    transfer: transfers[state.curve.id] ?? null,
    matrix: state.gamut.id === 'bt2020' ? 'bt2020nc' : 'bt709',
    range: 'legal',
  };
}

/** The state that tags speak of, where they speak of one. */
export function stateOfTags(tags: ColourTags): string | null {
  if (tags.transfer === 'bt709' && tags.primaries === 'bt709') return 'bt709';
  if (tags.transfer?.startsWith('bt2020') && tags.primaries === 'bt2020') return 'bt2020';
  if (tags.transfer === 'arib-std-b67' && tags.primaries === 'bt2020') return 'hlg';
  if (tags.transfer === 'smpte2084' && tags.primaries === 'bt2020') return 'pq';
  return null;
}
