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
