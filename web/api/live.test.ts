import type { RunAnswer } from '@relay/contract/api';
import { QueryClient } from '@tanstack/react-query';
import { expect, it } from 'vitest';
import { lay } from './live.ts';

const leg = { id: 'l', state: 'running', framesDone: 1, framesTotal: 72, speed: null } as RunAnswer['legLines'][number];

it('lays progress into the run that is shown, without asking the server again', () => {
  const client = new QueryClient();
  client.setQueryData(['run', 'r'], { id: 'r', legLines: [leg] });
  const asked: string[] = [];
  const note = (key: readonly string[]): void => void asked.push(key.join(' '));
  lay(client, { kind: 'leg', run: 'r', leg: 'l', state: 'running', framesDone: 36, framesTotal: 72, speed: 1.5 }, note);
  expect(client.getQueryData<RunAnswer>(['run', 'r'])?.legLines[0]).toMatchObject({ framesDone: 36, speed: 1.5 });
  expect(asked).toEqual(['site']);
  lay(client, { kind: 'leg', run: 'r', leg: 'l', state: 'proved', framesDone: 72, framesTotal: 72, speed: null }, note);
  expect(asked).toContain('run r');
  expect(asked).toContain('productions');
});
