import type { Gamut } from './gamut.ts';
import { ap0 } from './gamuts/ap0.ts';
import { ap1 } from './gamuts/ap1.ts';
import { awg3 } from './gamuts/awg3.ts';
import { awg4 } from './gamuts/awg4.ts';
import { bt2020 } from './gamuts/bt2020.ts';
import { bt601 } from './gamuts/bt601.ts';
import { bt709 } from './gamuts/bt709.ts';
import { cgamut } from './gamuts/cgamut.ts';
import { dgamut } from './gamuts/dgamut.ts';
import { p3d65 } from './gamuts/p3d65.ts';
import { p3dci } from './gamuts/p3dci.ts';
import { rwg } from './gamuts/rwg.ts';
import { sgamut3 } from './gamuts/sgamut3.ts';
import { sgamut3cine } from './gamuts/sgamut3cine.ts';
import { vgamut } from './gamuts/vgamut.ts';

/** Every gamut there is. A new one is a file in `gamuts/` and a name here. */
export const gamuts: readonly Gamut[] = [
  bt709,
  bt2020,
  bt601,
  p3d65,
  p3dci,
  sgamut3,
  sgamut3cine,
  awg3,
  awg4,
  cgamut,
  vgamut,
  rwg,
  dgamut,
  ap0,
  ap1,
];
