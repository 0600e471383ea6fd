import type { RollAnswer } from '@relay/contract/arrivals';
import { clearingOf, usualCopyRule } from '@relay/core/custody/clearing';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { renderToStaticMarkup } from 'react-dom/server';
import { MemoryRouter } from 'react-router';
import { describe, expect, it } from 'vitest';
import { rollQuery } from '../api/queries.ts';
import { RollDocket } from './rollDocket.tsx';
import { rollLook } from './rollState.tsx';

const copy = (
  storeName: string,
  filesProved: number,
  rest: Partial<RollAnswer['copies'][number]> = {},
): RollAnswer['copies'][number] => ({
  id: storeName,
  store: storeName,
  storeName,
  folder: `x/${storeName}`,
  filesProved,
  disk: `disk of ${storeName}`,
  readFromDisk: true,
  manifest: 'ascmhl/0001.mhl',
  problem: null,
  verification: null,
  verifiedAt: null,
  verifying: false,
  ...rest,
});
function roll(rest: Partial<RollAnswer> = {}): RollAnswer {
  const copies = rest.copies ?? [copy('Raid', 8), copy('Shuttle', 8)];
  return {
    id: 'r',
    name: 'A002',
    day: 'day-2',
    cardStore: 'bay',
    cardFolder: 'slot-1',
    state: 'proved',
    files: 8,
    filesDone: 8,
    bytes: 100,
    bytesDone: 100,
    createdAt: '',
    startedAt: null,
    endedAt: null,
    copies,
    problems: [],
    clips: 3,
    clearing: clearingOf(
      usualCopyRule,
      8,
      copies.map((one) => ({
        store: one.store,
        filesProved: one.filesProved,
        disk: one.disk,
        readFromDisk: one.readFromDisk,
        problem: one.problem?.what ?? null,
      })),
    ),
    hash: 'xxh128',
    alsoMd5: false,
    notCopied: [],
    cardManifest: null,
    events: [{ at: '2026-11-21T20:00:00Z', who: 'worker', what: 'Copying begins' }],
    generations: [],
    ...rest,
  };
}
function draw(one: RollAnswer): string {
  const client = new QueryClient();
  client.setQueryData(rollQuery('r').queryKey, one);
  return renderToStaticMarkup(
    <QueryClientProvider client={client}>
      <MemoryRouter>
        <RollDocket id="r" onVerify={() => undefined} />
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

describe('a roll', () => {
  it('says in words whether its card may be cleared, in every state', () => {
    expect(rollLook(roll()).says).toContain('The card may be cleared');
    expect(rollLook(roll({ state: 'copying', filesDone: 3 })).says).toBe(
      'Copying and proving, 3 of 8 files. Keep the card',
    );
    for (const state of ['waiting', 'copying', 'paused', 'stopped'] as const)
      expect(rollLook(roll({ state })).says).toMatch(/Keep the card$/);
    expect(rollLook(roll({ state: 'failed', copies: [copy('Raid', 8), copy('Shuttle', 5)] })).says).toBe(
      'Keep the card: 5 of 8 files are proved on Shuttle',
    );
  });

  it('offers what can be done: resume what broke off, verify what has a manifest, stop what runs', () => {
    expect(draw(roll())).toContain('Verify again');
    expect(draw(roll())).not.toContain('Resume');
    expect(draw(roll({ state: 'failed', copies: [copy('Raid', 2, { manifest: null })] }))).toContain('Resume');
    const running = draw(roll({ state: 'copying', copies: [copy('Raid', 0, { manifest: null })] }));
    expect(running).toContain('Pause');
    expect(running).not.toContain('Verify again');
  });

  it("names every difference that a verification found, and what the card's own manifest says", () => {
    const page = draw(
      roll({
        copies: [
          copy('Raid', 8, {
            verification: {
              verified: false,
              same: 5,
              missing: ['a.mov'],
              changed: [{ path: 'b.mov', why: 'x' }],
              extra: ['c.mov'],
              problem: null,
            },
          }),
          copy('Shuttle', 8, { readFromDisk: false }),
        ],
        cardManifest: { file: 'card.md5', same: 7, missing: ['gone.mov'], changed: [], extra: [] },
      }),
    );
    for (const words of [
      'missing a.mov',
      'changed b.mov',
      'extra c.mov',
      '1 missing, 1 changed, 1 extra',
      'from memory: this disk allows no more',
      'missing gone.mov',
      'Copying begins',
    ])
      expect(page).toContain(words);
  });
});
