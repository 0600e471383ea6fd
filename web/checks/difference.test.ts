import { expect, it } from 'vitest';
import { difference } from './difference.ts';

it('two windows of a picture differ colour by colour, strengthened up to white, and are opaque', () => {
  const [width, height] = [7, 4];
  const data = Uint8ClampedArray.from({ length: width * height * 4 }, (_, at) => (at * 37) % 256);
  const one = { x: 0, y: 1, width: 3, height: 2 };
  const other = { x: 4, y: 0, width: 3, height: 2 };
  const sample = ({ x, y }: { x: number; y: number }, across: number, down: number, colour: number): number =>
    data[((y + down) * width + x + across) * 4 + colour] as number;
  for (const gain of [1, 4, 64]) {
    const into = { width: 3, height: 2, data: new Uint8ClampedArray(24) };
    difference({ width, height, data }, [one, other], gain, into);
    for (let at = 0; at < 24; at += 1) {
      const [across, down, colour] = [Math.floor(at / 4) % 3, Math.floor(at / 12), at % 4];
      const apart = Math.abs(sample(one, across, down, colour) - sample(other, across, down, colour));
      expect(into.data[at]).toBe(colour === 3 ? 255 : Math.min(255, gain * apart));
    }
  }
});
