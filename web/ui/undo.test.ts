import { expect, it } from 'vitest';
import { UndoStack } from './undo.ts';

it('undoes the last change first, each once, and a change from the middle where it is asked for', async () => {
  const stack = new UndoStack();
  const undone: string[] = [];
  const change = (what: string) => ({ what, undo: () => Promise.resolve(undone.push(what)) });
  const [a, b, c] = ['a', 'b', 'c'].map(change) as [
    ReturnType<typeof change>,
    ReturnType<typeof change>,
    ReturnType<typeof change>,
  ];
  [a, b, c].forEach((one) => stack.push(one));
  await stack.undo(b);
  await stack.undo(b);
  expect(await stack.undoLast()).toBe('c');
  expect(await stack.undoLast()).toBe('a');
  expect(await stack.undoLast()).toBeNull();
  expect(undone).toEqual(['b', 'c', 'a']);
});

it('a change that cannot be undone says so once, and does not bar the one before', async () => {
  const stack = new UndoStack();
  stack.push({ what: 'first', undo: () => Promise.resolve() });
  stack.push({ what: 'second', undo: () => Promise.reject(new Error('changed again since')) });
  await expect(stack.undoLast()).rejects.toThrow('changed again since');
  expect(await stack.undoLast()).toBe('first');
});
