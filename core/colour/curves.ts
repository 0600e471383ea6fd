import type { Curve } from './curve.ts';
import { acescc } from './curves/acescc.ts';
import { acescct } from './curves/acescct.ts';
import { bt2020 } from './curves/bt2020.ts';
import { bt709 } from './curves/bt709.ts';
import { cineon } from './curves/cineon.ts';
import { clog2 } from './curves/clog2.ts';
import { clog3 } from './curves/clog3.ts';
import { dlog } from './curves/dlog.ts';
import { flog } from './curves/flog.ts';
import { flog2 } from './curves/flog2.ts';
import { bt1886, gamma22, gamma24, gamma26 } from './curves/gamma.ts';
import { hlg } from './curves/hlg.ts';
import { linear } from './curves/linear.ts';
import { log3g10 } from './curves/log3g10.ts';
import { logc3 } from './curves/logc3.ts';
import { logc4 } from './curves/logc4.ts';
import { nlog } from './curves/nlog.ts';
import { pq } from './curves/pq.ts';
import { slog2 } from './curves/slog2.ts';
import { slog3 } from './curves/slog3.ts';
import { srgb } from './curves/srgb.ts';
import { vlog } from './curves/vlog.ts';

/** Every curve there is, cameras' first. A new one is a file in `curves/` and a line here. */
export const curves: readonly Curve[] = [
  slog3,
  slog2,
  ...logc3,
  logc4,
  clog2,
  clog3,
  vlog,
  log3g10,
  nlog,
  flog,
  flog2,
  dlog,
  acescct,
  acescc,
  cineon,
  linear,
  bt709,
  bt2020,
  bt1886,
  srgb,
  gamma22,
  gamma24,
  gamma26,
  pq,
  hlg,
];
