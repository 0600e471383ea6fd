/** ITU-R BT.709-6, item 1.2: the opto-electronic transfer of a television camera, light 0–1 → signal 0–1. */
export function bt709FromLinear(light: number): number {
  return light < 0.018 ? 4.5 * light : 1.099 * light ** 0.45 - 0.099;
}

export function linearFromBt709(signal: number): number {
  return signal < 0.081 ? signal / 4.5 : ((signal + 0.099) / 1.099) ** (1 / 0.45);
}
