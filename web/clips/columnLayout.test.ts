import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layoutAsText, layoutOf, movedBy, movedTo, shownAs, widthLimits } from './columnLayout.ts';

const columns = ['picture', 'clip', 'roll', 'scene', 'note'];
const read = (text: string) => layoutOf(text, columns, ['clip']);

describe("a sheet's columns", () => {
  it('are read from an address as they were written to it', () => {
    const layout = read('clip-140.roll.picture');
    expect(layout.order).toEqual(['clip', 'roll', 'picture', 'scene', 'note']);
    expect([...layout.hidden]).toEqual(['scene', 'note']);
    expect(layout.widths).toEqual({ clip: 140 });
    expect(layoutAsText(layout)).toBe('clip-140.roll.picture');
  });

  it('are all there once whatever an address says, with the clip itself shown and widths within limits', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.constantFrom(...columns, 'clip-9999', 'roll-1', 'x', ''), fc.string())),
        (words) => {
          const layout = read(words.join('.'));
          expect([...layout.order].sort()).toEqual([...columns].sort());
          expect(layout.hidden.has('clip')).toBe(false);
          for (const width of Object.values(layout.widths)) {
            expect(width).toBeGreaterThanOrEqual(widthLimits.least);
            expect(width).toBeLessThanOrEqual(widthLimits.most);
          }
          expect(read(layoutAsText(layout))).toEqual({ ...layout, order: expect.anything() });
        },
      ),
    );
  });

  it('move past each other, hidden ones passed over, and not off the end', () => {
    const layout = read('picture.clip.scene');
    expect(layoutAsText(movedBy(layout, 'scene', -1))).toBe('picture.scene.clip');
    expect(layoutAsText(movedBy(layout, 'scene', 1))).toBe('picture.clip.scene');
    expect(layoutAsText(movedTo(layout, 'picture', 'scene'))).toBe('clip.scene.picture');
    expect(movedTo(layout, 'picture', 'picture')).toBe(layout);
  });

  it('come back where they were hidden', () => {
    const layout = read('picture.clip.scene');
    expect(layoutAsText(shownAs(shownAs(layout, 'picture', false), 'picture', true))).toBe('picture.clip.scene');
  });
});
