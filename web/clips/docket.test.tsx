import type { ClipLine } from '@relay/contract/api';
import { sampleClip } from '@relay/core/clip/sample';
import { notesOn } from '@relay/core/clip/toKnow';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { rational } from '@relay/core/time/rational';
import { renderToStaticMarkup } from 'react-dom/server';
import { expect, it } from 'vitest';
import { ClipDocket } from './docket.tsx';

const recipe = { id: 'r', definition: finishAndCut };
const line = (id: string, ...args: Parameters<typeof sampleClip>): ClipLine => {
  const description = sampleClip(...args);
  return { id, path: description.path, stem: description.stem, roll: 'A001', description, notes: notesOn(description), poster: false, way: [] };
};
const draw = (...clips: ClipLine[]): string => renderToStaticMarkup(<ClipDocket clips={clips} recipe={recipe} onRun={() => undefined} />);

it('says of one clip what a run will do, from the plan itself, and what it will make', () => {
  const page = draw(line('1', {}, { raster: { width: 1440, height: 1080 }, pixelAspect: rational(4, 3) }));
  expect(page).toContain('Pixels of 4:3 made square: 1440×1080 becomes 1920×1080.');
  expect(page).toContain('ProRes 422 HQ · 1920×1080 · 23.976');
  expect(page).toContain('H.264 · 960×540 · 23.976');
});

it('says why a clip cannot be run, and what to do', () => {
  expect(draw(line('1', { path: 'x/bad\u0007name.mov', stem: 'bad\u0007name' }))).toContain('holds a control character');
});

it('says mixed where a selection differs, and the one value where it does not', () => {
  const page = draw(line('1'), line('2', { reel: 'A002' }, { rate: rational(25) }));
  const fact = (name: string): string | undefined => new RegExp(`${name}</dt><dd[^>]*>([^<]*)<`).exec(page)?.[1];
  expect([fact('Reel'), fact('Rate'), fact('Raster'), fact('Wrapper')]).toEqual(['mixed', 'mixed', '1920×1080', 'MOV']);
  expect(page).toContain('2 clips');
});
