import { expect, it } from 'vitest';
import { Gate, GateFull } from './gate.ts';

function slow(): { work: () => Promise<void>; end: () => void } {
  let end = (): void => undefined;
  const over = new Promise<void>((resolve) => {
    end = resolve;
  });
  return { work: () => over, end };
}

it('lets so many through at a time, and of one asker no more than its share', async () => {
  const gate = new Gate(2, 1);
  const begun: string[] = [];
  const [first, second, other] = [slow(), slow(), slow()];
  const go = (name: string, who: string, one: ReturnType<typeof slow>): Promise<void> =>
    gate.through(who, undefined, async () => {
      begun.push(name);
      await one.work();
    });
  const all = [go('a1', 'a', first), go('a2', 'a', second), go('b1', 'b', other)];
  await new Promise((resolve) => setTimeout(resolve, 5));
  expect(begun).toEqual(['a1', 'b1']);
  other.end();
  await new Promise((resolve) => setTimeout(resolve, 5));
  expect(begun).toEqual(['a1', 'b1']);
  first.end();
  second.end();
  await Promise.all(all);
  expect(begun).toEqual(['a1', 'b1', 'a2']);
});

it('who is not wanted any more leaves the line, and a line too long is refused', async () => {
  const gate = new Gate(1, 1, 1);
  const first = slow();
  const inside = gate.through('a', undefined, first.work);
  const unwanted = new AbortController();
  const waiting = gate.through('b', unwanted.signal, async () => 'never');
  await expect(gate.through('c', undefined, async () => 'never')).rejects.toThrow(GateFull);
  unwanted.abort(new Error('gone'));
  await expect(waiting).rejects.toThrow('gone');
  first.end();
  await inside;
  expect(await gate.through('d', undefined, async () => 'through')).toBe('through');
});

it('what fails makes room too', async () => {
  const gate = new Gate(1);
  await expect(
    gate.through('a', undefined, async () => {
      throw new Error('failed');
    }),
  ).rejects.toThrow('failed');
  expect(await gate.through('a', undefined, async () => 1)).toBe(1);
});
