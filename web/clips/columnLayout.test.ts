import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lookAsText, lookOf, movedBy, movedTo, shownAs, widthLimits } from './columnLook.ts';

const columns = ['picture', 'clip', 'roll', 'scene', 'note'];
const read = (text: string) => lookOf(text, columns, ['clip']);

describe("a sheet's columns", () => {
  it('are read from an address as they were written to it', () => {
    const look = read('clip-140.roll.picture');
    expect(look.order).toEqual(['clip', 'roll', 'picture', 'scene', 'note']);
    expect([...look.hidden]).toEqual(['scene', 'note']);
    expect(look.widths).toEqual({ clip: 140 });
    expect(lookAsText(look)).toBe('clip-140.roll.picture');
  });

  it('are all there once whatever an address says, with the clip itself shown and widths within limits', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.constantFrom(...columns, 'clip-9999', 'roll-1', 'x', ''), fc.string())),
        (words) => {
          const look = read(words.join('.'));
          expect([...look.order].sort()).toEqual([...columns].sort());
          expect(look.hidden.has('clip')).toBe(false);
          for (const width of Object.values(look.widths)) {
            expect(width).toBeGreaterThanOrEqual(widthLimits.least);
            expect(width).toBeLessThanOrEqual(widthLimits.most);
          }
          expect(read(lookAsText(look))).toEqual({ ...look, order: expect.anything() });
        },
      ),
    );
  });

  it('move past each other, hidden ones passed over, and not off the end', () => {
    const look = read('picture.clip.scene');
    expect(lookAsText(movedBy(look, 'scene', -1))).toBe('picture.scene.clip');
    expect(lookAsText(movedBy(look, 'scene', 1))).toBe('picture.clip.scene');
    expect(lookAsText(movedTo(look, 'picture', 'scene'))).toBe('clip.scene.picture');
    expect(movedTo(look, 'picture', 'picture')).toBe(look);
  });

  it('come back where they were hidden', () => {
    const look = read('picture.clip.scene');
    expect(lookAsText(shownAs(shownAs(look, 'picture', false), 'picture', true))).toBe('picture.clip.scene');
  });
});
