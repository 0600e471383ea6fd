import type { ClipAnswer, CommonAnswer } from '@relay/contract/clips';
import { clipFacts } from '@relay/core/clip/facts';
import type { ClipDescription } from '@relay/core/clip/description';
import { sampleClip } from '@relay/core/clip/sample';
import { findingsOf, standingOf } from '@relay/core/findings/findings';
import { identityOf, nobody } from '@relay/core/identity/identity';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { rational } from '@relay/core/time/rational';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import type { ReactElement } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import { MemoryRouter } from 'react-router';
import { expect, it } from 'vitest';
import { clipQuery, commonQuery } from '../api/queries.ts';
import { ClipDocket, SelectionDocket } from './docket.tsx';

const recipe = {
  id: 'r',
  definition: finishAndCut,
  group: 'Edit',
  note: '',
  owner: 'assistant',
  version: 1,
  changedAt: '2026-11-25T00:00:00Z',
};
const nothing = (): void => undefined;

function answer(description: ClipDescription, rest: Partial<ClipAnswer> = {}): ClipAnswer {
  const findings = findingsOf({
    clip: description,
    reel: description.reel,
    measured: null,
    recorded: null,
    unsaidLut: null,
    scanSaid: null,
    conformSaid: false,
    productionRate: null,
    sameName: [],
    overlapping: [],
    custody: 'none',
  });
  return {
    id: '1',
    version: 1,
    roll: 'A001',
    store: 'raid',
    root: '',
    description,
    identity: identityOf({}, {}, description),
    said: {},
    sidecarSaid: {},
    sidecars: [],
    findings,
    decisions: [],
    standing: standingOf(findings, []),
    custody: null,
    measured: null,
    lookedAt: '2026-11-20T18:00:00Z',
    lookProblem: null,
    poster: false,
    inForce: { fields: {}, from: {} },
    proxy: false,
    way: [],
    ...rest,
  };
}

function draw(page: ReactElement, keep: (client: QueryClient) => void): string {
  const client = new QueryClient();
  keep(client);
  return renderToStaticMarkup(
    <QueryClientProvider client={client}>
      <MemoryRouter>{page}</MemoryRouter>
    </QueryClientProvider>,
  );
}
const drawClip = (clip: ClipAnswer): string =>
  draw(<ClipDocket id="1" production="p" recipe={recipe} onRun={nothing} onPattern={nothing} />, (client) =>
    client.setQueryData(clipQuery('1').queryKey, clip),
  );

it('says of one clip what a run will do, from the plan itself, and what it will make', () => {
  const page = drawClip(answer(sampleClip({}, { raster: { width: 1440, height: 1080 }, pixelAspect: rational(4, 3) })));
  expect(page).toContain('Pixels of 4:3 made square: 1440×1080 becomes 1920×1080.');
  expect(page).toContain('ProRes 422 HQ · 1920×1080 · 23.976');
  expect(page).toContain('H.264 · 960×540 · 23.976');
});

it('says why a clip cannot be run, and what to do', () => {
  expect(drawClip(answer(sampleClip({ path: 'x/bad\u0007name.mov', stem: 'bad\u0007name' })))).toContain(
    'holds a control character',
  );
});

it('asks about what is to decide, and shows who decided what', () => {
  const clip = sampleClip({ timecode: null });
  expect(drawClip(answer(clip))).toContain('Run it as it is');
  const decided = drawClip(
    answer(clip, {
      decisions: [{ rule: 'noTimecode', answer: 'leave out', note: 'test shot', by: 'assistant', at: '' }],
    }),
  );
  expect(decided).toContain('Left out of runs, says assistant: test shot');
  expect(decided).not.toContain('Run it as it is');
});

it('says where identity comes from', () => {
  const page = drawClip(
    answer(sampleClip(), { sidecarSaid: { scene: '14' }, identity: { ...nobody, scene: '14', reel: 'A001' } }),
  );
  expect(page).toContain('from sidecar');
  expect(page).toContain('from file');
});

it('says mixed where a selection differs, and the one value where it does not', () => {
  const clips = [sampleClip(), sampleClip({ reel: 'A002' }, { rate: rational(25) })];
  const common: CommonAnswer = {
    clips: 2,
    seconds: 6,
    bytes: 10,
    circled: null,
    versions: { a: 1, b: 1 },
    findings: [{ rule: 'noTimecode', level: 'decide', text: 'No timecode', clips: 2, undecided: 1 }],
    facts: clipFacts.map(
      ([name, say]) =>
        [
          name,
          say(clips[0] as ClipDescription) === say(clips[1] as ClipDescription)
            ? say(clips[0] as ClipDescription)
            : null,
        ] as const,
    ),
    identity: {
      reel: { same: false, value: null },
      scene: { same: true, value: '14' },
      take: { same: true, value: null },
      camera: { same: true, value: null },
      note: { same: true, value: null },
    },
  };
  const page = draw(<SelectionDocket ids={['a', 'b']} production="p" onRun={nothing} onPattern={nothing} />, (client) =>
    client.setQueryData(commonQuery('p', ['a', 'b']).queryKey, common),
  );
  const fact = (name: string): string | undefined =>
    new RegExp(`${name}</dt><dd[^>]*>(?:<span[^>]*>)?([^<]*)<`).exec(page)?.[1];
  expect([fact('Rate'), fact('Raster'), fact('Wrapper')]).toEqual(['mixed', '1920×1080', 'MOV']);
  expect(page).toContain('placeholder="mixed"');
  expect(page).toContain('value="14"');
  expect(page).toContain('Run 1 as they are');
});
