import { add, blend, glow, newCanvas, overArea, rectangle, set, type Canvas, type Light } from './canvas.ts';
import { noiseTile, seeded, tileAt } from './noise.ts';

/**
 * What differs from shot to shot. Places are in shares of the picture's height; x runs from 0 to the display aspect.
 */
export interface Shot {
  seed: number;
  /** 0 is sunset, 1 the last light. */
  dusk: number;
  horizon: number;
  sunX: number;
  lighthouse: { x: number; height: number } | null;
  ferry: { x: number; speed: number; size: number } | null;
}

type Ramp = readonly (readonly [number, Light])[];

const early: Ramp = [
  [0, [0.055, 0.1, 0.2]],
  [0.45, [0.2, 0.2, 0.27]],
  [0.75, [0.55, 0.33, 0.24]],
  [0.93, [1.15, 0.52, 0.2]],
  [1, [1.5, 0.66, 0.22]],
];
const late: Ramp = [
  [0, [0.008, 0.018, 0.045]],
  [0.5, [0.022, 0.042, 0.085]],
  [0.8, [0.075, 0.075, 0.11]],
  [0.95, [0.26, 0.15, 0.12]],
  [1, [0.38, 0.2, 0.13]],
];

function ramp(stops: Ramp, t: number): Light {
  const next = Math.max(
    1,
    stops.findIndex(([at]) => at >= t),
  );
  const [a, b] = [stops[next - 1], stops[next]] as [readonly [number, Light], readonly [number, Light]];
  const share = Math.min(1, Math.max(0, (t - a[0]) / (b[0] - a[0])));
  return [0, 1, 2].map((k) => (a[1][k] as number) * (1 - share) + (b[1][k] as number) * share) as unknown as Light;
}

function mix(a: Light, b: Light, t: number): Light {
  return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
}

/** Everything that does not move: sky, cloud, far shore, rock and tower; water is laid below it frame by frame. */
export function paintStill(width: number, height: number, pixelAspect: number, shot: Shot): Canvas {
  const c = newCanvas(width, height, pixelAspect);
  const wide = (width * pixelAspect) / height;
  const cloud = noiseTile(shot.seed + 1, 6, 4);
  const ridge = noiseTile(shot.seed + 2, 5, 6);
  const { horizon } = shot;
  // The gradient depends on the row alone.
  const skies = Array.from({ length: height }, (_, row) => {
    const t = Math.min(1, (row + 0.5) / height / horizon);
    return mix(ramp(early, t), ramp(late, t), shot.dusk);
  });
  overArea(c, 0, 0, wide, horizon, (x, y, at) => {
    const t = y / horizon;
    let light = skies[(y * height) | 0] as Light;
    const fromSun = Math.hypot((x - shot.sunX) * 0.8, (y - horizon) * 1.6);
    light = mix(
      light,
      [2.6 * (1 - shot.dusk * 0.8), 1.1 * (1 - shot.dusk * 0.82), 0.34 * (1 - shot.dusk * 0.8)],
      0.75 * Math.exp(-fromSun * fromSun * 9),
    );
    const n = tileAt(cloud, x * 120 + 60 * t, t * t * 380) + 0.35 * tileAt(cloud, x * 330, t * t * 900);
    const cover = Math.min(1, Math.max(0, (n - 0.06) * 2.2)) * Math.min(1, t * 2.4) * (1 - t * 0.35);
    const lit = mix(
      [0.05, 0.055, 0.085],
      [1.25, 0.5, 0.26],
      Math.exp(-fromSun * 1.9) * (0.4 + 0.6 * t) * (1 - shot.dusk * 0.7),
    );
    set(c, at, mix(light, lit, cover * 0.62));
  });
  // Two shores, the farther one paler with the air between.
  for (const [depth, rise, tone] of [
    [0, 0.075, 0.42],
    [1, 0.045, 0.16],
  ] as const) {
    const air = mix(ramp(early, 0.96), ramp(late, 0.96), shot.dusk);
    const earth: Light = [air[0] * tone * 0.3 + 0.008, air[1] * tone * 0.42 + 0.01, air[2] * tone * 0.75 + 0.016];
    overArea(c, 0, horizon - 0.2, wide, horizon, (x, y, at) => {
      const reach = 0.35 + 0.65 * Math.abs(Math.sin(x * (1.3 + depth * 0.9) + shot.seed));
      const top =
        horizon -
        rise * reach * (0.75 + 0.5 * tileAt(ridge, x * 90 + depth * 200, 40 + depth * 90)) +
        (depth === 1 ? 0.012 : 0);
      if (y > top) blend(c, at, earth, 0.93);
    });
  }
  // Lamps along the far shore.
  const random = seeded(shot.seed + 9);
  for (let lamp = 0; lamp < 9; lamp += 1) {
    const warm: Light = random() > 0.3 ? [2.4, 1.3, 0.45] : [1.5, 1.7, 1.9];
    glow(c, random() * wide, horizon - 0.004 - random() * 0.018, 0.0032, warm, 0.9);
  }
  if (shot.lighthouse) tower(c, shot.lighthouse.x, horizon, shot.lighthouse.height, shot.dusk);
  return c;
}

function tower(c: Canvas, cx: number, horizon: number, tall: number, dusk: number): void {
  const rim = (1 - dusk * 0.75) * 0.5;
  const rock = noiseTile(77, 4, 8);
  overArea(c, cx - tall * 0.7, horizon - tall * 0.2, cx + tall * 0.7, horizon + 0.001, (x, y, at) => {
    const side = Math.abs(x - cx) / (tall * 0.62);
    const top =
      horizon - tall * 0.13 * Math.sqrt(Math.max(0, 1 - side * side)) * (0.8 + 0.45 * tileAt(rock, x * 260, 30));
    if (side < 1 && y > top) blend(c, at, [0.014 + 0.01 * tileAt(rock, x * 400, y * 500), 0.014, 0.019], 0.97);
  });
  const base = horizon - tall * 0.1;
  const head = horizon - tall;
  overArea(c, cx - tall * 0.1, head - tall * 0.12, cx + tall * 0.1, base, (x, y, at) => {
    const t = (y - head) / (base - head);
    const half = tall * (0.036 + 0.03 * t * t);
    const across = (x - cx) / half;
    if (t >= 0 && Math.abs(across) <= 1) {
      const band = Math.floor(t * 5) % 2 === 0;
      const shade = 0.25 + 0.75 * Math.max(0, -across * 0.55 + 0.3) + rim * Math.max(0, -across - 0.6);
      const paint: Light = band ? [0.22, 0.2, 0.19] : [0.15, 0.035, 0.028];
      set(c, at, [
        paint[0] * shade * (1.1 - dusk * 0.75),
        paint[1] * shade * (1.1 - dusk * 0.72),
        paint[2] * shade * (1.1 - dusk * 0.66),
      ]);
    }
    // Gallery, lantern room and cap.
    const up = (head - y) / tall;
    if (up >= 0 && up < 0.014 && Math.abs(x - cx) < tall * 0.052) set(c, at, [0.02, 0.02, 0.026]);
    if (up >= 0.014 && up < 0.062 && Math.abs(x - cx) < tall * 0.026) {
      const bar = Math.abs(((x - cx) / (tall * 0.026)) % 0.66) < 0.06;
      set(c, at, bar ? [0.03, 0.03, 0.03] : [1.9, 1.35, 0.62]);
    }
    if (up >= 0.062 && up < 0.1 && Math.abs(x - cx) < tall * 0.034 * (1 - (up - 0.062) / 0.04))
      set(c, at, [0.03, 0.014, 0.014]);
  });
}

/** A ferry with lit windows, its waterline at `horizon` plus a little. */
function ferry(c: Canvas, x: number, y: number, size: number, dusk: number): void {
  const hull: Light = [0.016, 0.02, 0.028];
  const white: Light = [0.12 * (1.15 - dusk * 0.6), 0.115 * (1.15 - dusk * 0.55), 0.13 * (1.15 - dusk * 0.45)];
  const lamp: Light = [3.6, 2.2, 0.85];
  overArea(c, x - size, y - size * 0.16, x + size, y, (px, py, at) => {
    const t = (y - py) / (size * 0.15);
    if (t >= 0 && t <= 1 && px > x - size * (0.86 + 0.1 * t) && px < x + size * (0.84 + 0.14 * t))
      set(c, at, t > 0.82 ? [0.09, 0.06, 0.045] : hull);
  });
  rectangle(c, x - size * 0.74, y - size * 0.3, x + size * 0.66, y - size * 0.15, white);
  rectangle(c, x - size * 0.5, y - size * 0.42, x + size * 0.48, y - size * 0.3, mix(white, [0.02, 0.02, 0.03], 0.2));
  rectangle(c, x + size * 0.2, y - size * 0.52, x + size * 0.42, y - size * 0.42, mix(white, [0.02, 0.02, 0.03], 0.35));
  rectangle(c, x - size * 0.36, y - size * 0.6, x - size * 0.2, y - size * 0.42, [0.1, 0.03, 0.022]);
  for (let window = 0; window < 13; window += 1) {
    const wx = x - size * 0.68 + window * size * 0.1;
    rectangle(c, wx, y - size * 0.26, wx + size * 0.058, y - size * 0.2, lamp, 0.9);
    if (window > 1 && window < 10)
      rectangle(c, wx, y - size * 0.385, wx + size * 0.05, y - size * 0.335, lamp, window % 3 === 0 ? 0.25 : 0.75);
  }
  glow(c, x + size * 0.31, y - size * 0.66, size * 0.022, [3, 2.8, 2.4], 2.2);
  glow(c, x - size * 0.82, y - size * 0.21, size * 0.018, [3.4, 0.4, 0.3], 1.6);
  glow(c, x + size * 0.86, y - size * 0.2, size * 0.018, [0.4, 3, 1], 1.3);
}

/** A painter of one shot: paints the moving parts of the moment `seconds` into its canvas. */
export interface Painter {
  canvas: Canvas;
  /** Rows of only one field are painted when `parity` is given; the others keep what they hold. */
  paint(seconds: number, parity?: 0 | 1): void;
}

export function painterOf(width: number, height: number, pixelAspect: number, shot: Shot): Painter {
  const still = paintStill(width, height, pixelAspect, shot);
  const canvas = newCanvas(width, height, pixelAspect);
  const swell = noiseTile(shot.seed + 4, 3, 16);
  const ripple = noiseTile(shot.seed + 5, 3, 40);
  const horizonRow = Math.round(shot.horizon * height);
  const above = newCanvas(width, height, pixelAspect);
  const rows = (from: number, to: number): [number, number] => [from * width * 3, to * width * 3];
  return {
    canvas,
    paint(seconds, parity) {
      const [first, last] = rows(0, horizonRow);
      above.light.set(still.light.subarray(first, last), first);
      if (shot.lighthouse) beam(above, shot, seconds);
      if (shot.ferry) ferry(above, shot.ferry.x + shot.ferry.speed * seconds, shot.horizon, shot.ferry.size, shot.dusk);
      for (let row = 0; row < height; row += 1) {
        if (parity !== undefined && row % 2 !== parity) continue;
        if (row < horizonRow)
          canvas.light.set(above.light.subarray(row * width * 3, (row + 1) * width * 3), row * width * 3);
        else waterRow(canvas, above, row, horizonRow, seconds, swell, ripple, shot);
      }
    },
  };
}

function beam(c: Canvas, shot: Shot, seconds: number): void {
  const house = shot.lighthouse;
  if (!house) return;
  const cy = shot.horizon - house.height * 1.038;
  const turn = (seconds * 0.33 + shot.seed * 0.1) % 1;
  const facing = Math.max(0, Math.cos(turn * Math.PI * 2)) ** 24;
  glow(c, house.x, cy, house.height * (0.05 + 0.09 * facing), [2.6, 1.9, 0.95], 0.9 + 3.2 * facing);
  // The beam itself: a faint wedge that swings across the haze.
  const swing = Math.sin(turn * Math.PI * 2);
  const reach = 0.85 * Math.abs(swing);
  const side = Math.sign(swing);
  overArea(c, house.x - (side < 0 ? reach : 0), cy - 0.09, house.x + (side > 0 ? reach : 0), cy + 0.07, (x, y, at) => {
    const away = Math.abs(x - house.x);
    const spread = 0.004 + away * 0.055;
    const off = (y - cy + away * 0.015) / spread;
    const fade = Math.max(0, 1 - away / (reach + 1e-6));
    if (Math.abs(off) < 2.2)
      add(c, at, [0.36, 0.27, 0.15], Math.exp(-off * off) * fade * fade * (0.25 + 0.5 * shot.dusk));
  });
}

/** One row of tidal water: what lies above mirrored in slopes that run towards the camera. */
function waterRow(
  c: Canvas,
  above: Canvas,
  row: number,
  horizonRow: number,
  seconds: number,
  swell: Float32Array,
  ripple: Float32Array,
  shot: Shot,
): void {
  const { width, height } = c;
  const depth = (row - horizonRow + 0.5) / (height - horizonRow);
  const far = 1 / (depth + 0.035);
  const perColumn = c.pixelAspect / height;
  const mirror = horizonRow - 1 - depth * horizonRow * 0.92;
  const shine = 0.34 + 0.5 * (1 - depth) ** 2;
  const [tr, tg, tb] = [shine * 0.82, shine * 0.92, shine * 1.04];
  const deepR = 0.004 + 0.006 * (1 - shot.dusk),
    deepG = deepR * 1.7,
    deepB = deepR * 2.3;
  const vSwell = far * 26 + seconds * 9,
    vRipple = far * 61 - seconds * 17;
  const pushX = (0.5 + 3 * depth) * 0.012 * height,
    pushY = (0.25 + depth) * 0.16 * horizonRow;
  const rowSwell = (Math.floor(vSwell) & 511) << 9,
    rowRipple = (Math.floor(vRipple) & 511) << 9;
  const rowSwell2 = ((Math.floor(vSwell) + 1) & 511) << 9,
    between = vSwell - Math.floor(vSwell);
  const stepSwell = perColumn * far * 46,
    stepRipple = perColumn * far * 150;
  let uSwell = 3000 + seconds * 11,
    uRipple = 5000 - seconds * 23;
  const source = above.light,
    target = c.light;
  for (let column = 0, at = row * width * 3; column < width; column += 1, at += 3) {
    uSwell += stepSwell;
    uRipple += stepRipple;
    const i = uSwell & 511;
    const slope =
      (swell[rowSwell | i] as number) * (1 - between) +
      (swell[rowSwell2 | i] as number) * between +
      0.55 * (ripple[rowRipple | (uRipple & 511)] as number);
    let my = (mirror + slope * pushY) | 0;
    let mx = (column + slope * pushX) | 0;
    if (my < 0) my = -my;
    if (my >= horizonRow) my = horizonRow - 1;
    if (mx < 0) mx = 0;
    else if (mx >= width) mx = width - 1;
    const from = (my * width + mx) * 3;
    const facing = 1 - 0.42 * slope;
    target[at] = (source[from] as number) * tr * facing + deepR;
    target[at + 1] = (source[from + 1] as number) * tg * facing + deepG;
    target[at + 2] = (source[from + 2] as number) * tb * facing + deepB;
  }
}
