import type { RunAnswer } from '@relay/contract/runs';
import { QueryClient } from '@tanstack/react-query';
import { expect, it } from 'vitest';
import { lay, refreshLegs } from './live.ts';

const leg = { id: 'l', state: 'running', framesDone: 1, framesTotal: 72, speed: null } as RunAnswer['legLines'][number];

it('lays progress into the run that is shown, without asking the server again', () => {
  const client = new QueryClient();
  client.setQueryData(['run', 'r'], { id: 'r', legLines: [leg] });
  const asked: string[] = [];
  const note = (key: readonly string[]): void => void asked.push(key.join(' '));
  const noteLeg = (run: string, id: string): void => void asked.push(`run ${run}, leg ${id}`);
  lay(
    client,
    { kind: 'leg', run: 'r', leg: 'l', state: 'running', framesDone: 36, framesTotal: 72, speed: 1.5 },
    note,
    noteLeg,
  );
  expect(client.getQueryData<RunAnswer>(['run', 'r'])?.legLines[0]).toMatchObject({ framesDone: 36, speed: 1.5 });
  expect(asked).toEqual(['site']);
  lay(
    client,
    { kind: 'leg', run: 'r', leg: 'l', state: 'proved', framesDone: 72, framesTotal: 72, speed: null },
    note,
    noteLeg,
  );
  expect(asked).toContain('run r, leg l');
  expect(asked).not.toContain('run r');
  expect(asked).toContain('productions');
});

it('asks for the legs that changed alone, and puts each where the server would', async () => {
  const client = new QueryClient();
  const waiting = (id: string, ordinal: number, hand = 0): RunAnswer['legLines'][number] => ({
    ...leg,
    id,
    state: 'waiting',
    wave: 1,
    ordinal,
    hand,
  });
  client.setQueryData(['run', 'r'], {
    id: 'r',
    bytes: 0,
    legLines: [waiting('c', 2, 1), waiting('a', 0), waiting('b', 1)],
  });
  const asked: string[] = [];
  const ask = async (run: string, legs: string): Promise<RunAnswer> => {
    asked.push(`${run} ${legs}`);
    return { id: 'r', bytes: 5, legLines: [{ ...waiting('b', 1), state: 'running' }] } as unknown as RunAnswer;
  };
  await refreshLegs(client, 'r', ['b'], ask);
  expect(asked).toEqual(['r b']);
  const run = client.getQueryData<RunAnswer>(['run', 'r']);
  // What has begun stands before what waits, and of that what was put first by hand.
  expect(run?.legLines.map(({ id }) => id)).toEqual(['b', 'c', 'a']);
  expect(run?.bytes).toBe(5);
});

it('asks for a whole run where more legs changed than are asked for singly', async () => {
  const client = new QueryClient();
  client.setQueryData(['run', 'r'], { id: 'r', legLines: [leg] });
  let asked = 0;
  await refreshLegs(
    client,
    'r',
    Array.from({ length: 101 }, (_, index) => String(index)),
    async () => {
      asked += 1;
      return {} as RunAnswer;
    },
  );
  expect(asked).toBe(0);
  expect(client.getQueryState(['run', 'r'])?.isInvalidated).toBe(true);
});

it('lays what a reading and a roll have come to into their lists, and fetches a list anew when one has ended', () => {
  const client = new QueryClient();
  const asked: string[] = [];
  const note = (key: readonly string[]): void => void asked.push(key.join(' '));
  const nothing = (): void => undefined;
  const reading = { id: 'one', done: 0, total: 3, state: 'running' };
  client.setQueryData(['readings', 'p'], [reading, { ...reading, id: 'other' }]);
  lay(client, { kind: 'reading', production: 'p', reading: 'one', done: 2, total: 4, state: 'running' }, note, nothing);
  expect(client.getQueryData(['readings', 'p'])).toEqual([
    { id: 'one', done: 2, total: 4, state: 'running' },
    { ...reading, id: 'other' },
  ]);
  expect(asked).toEqual(['clips p']);
  lay(client, { kind: 'reading', production: 'p', reading: 'one', done: 4, total: 4, state: 'done' }, note, nothing);
  expect(asked).toContain('readings p');

  const roll = { id: 'r', state: 'copying', files: 9, filesDone: 0, bytes: 900, bytesDone: 0 };
  client.setQueryData(['rolls', 'p'], [roll, { ...roll, id: 's' }]);
  asked.length = 0;
  const message = { kind: 'roll', production: 'p', roll: 'r', state: 'copying' } as const;
  lay(client, { ...message, files: 0, filesDone: 4, bytes: 0, bytesDone: 400 }, note, nothing);
  // Sizes that are not known yet do not undo those that were.
  expect(client.getQueryData(['rolls', 'p'])).toEqual([
    { id: 'r', state: 'copying', files: 9, filesDone: 4, bytes: 900, bytesDone: 400 },
    { ...roll, id: 's' },
  ]);
  lay(client, { ...message, files: 10, filesDone: 5, bytes: 1000, bytesDone: 500 }, note, nothing);
  expect(client.getQueryData(['rolls', 'p'])).toMatchObject([{ files: 10, bytes: 1000 }, { files: 9 }]);
  expect(asked).toEqual([]);

  // What a hand-off would come to is worked out over a whole production: its progress asks for none of that.
  const line = { id: 'h', state: 'waiting', files: 9, filesDone: 0, bytes: 900, bytesDone: 0 };
  client.setQueryData(['handoffs', 'p', 'handed'], [line, { ...line, id: 'i' }]);
  client.setQueryData(['handoffs', 'one', 'h'], { ...line, items: [] });
  const now = { state: 'copying', files: 9, filesDone: 3, bytes: 900, bytesDone: 300 } as const;
  lay(client, { kind: 'handoff', production: 'p', handoff: 'h', ...now }, note, nothing);
  expect(client.getQueryData(['handoffs', 'p', 'handed'])).toEqual([
    { id: 'h', ...now },
    { ...line, id: 'i' },
  ]);
  expect(client.getQueryData(['handoffs', 'one', 'h'])).toEqual({ id: 'h', ...now, items: [] });
  expect(asked).toEqual([]);
});

it('more than a hundred legs at once, or a run that is not shown, are asked for whole', async () => {
  const client = new QueryClient();
  const asked: string[] = [];
  const ask = async (run: string): Promise<RunAnswer> => {
    asked.push(run);
    throw new Error('the server is away');
  };
  client.setQueryData(['run', 'r'], { id: 'r', legLines: [leg] });
  const stale = (): boolean | undefined => client.getQueryState(['run', 'r'])?.isInvalidated;
  await refreshLegs(
    client,
    'r',
    Array.from({ length: 101 }, (_, n) => String(n)),
    ask,
  );
  expect([asked, stale()]).toEqual([[], true]);
  client.setQueryData(['run', 'r'], { id: 'r', legLines: [leg] });
  await refreshLegs(
    client,
    'r',
    Array.from({ length: 100 }, (_, n) => String(n)),
    ask,
  );
  // What the server does not answer is asked for whole too.
  expect([asked, stale()]).toEqual([['r'], true]);
  await refreshLegs(client, 'elsewhere', ['l'], ask);
  expect(asked).toEqual(['r']);
});
