import { useEffect } from 'react';
import { toast } from 'sonner';
import { isForField } from './keys.ts';
import { toastProblem } from './pieces.tsx';

/** Something that was changed, and how it is as before again. */
interface Undoable {
  what: string;
  undo: () => Promise<unknown>;
}

/** So many changes can be undone, one after the other. */
const most = 50;

/** What can be undone, the last one last; it lasts as long as the page does. */
export class UndoStack {
  private readonly changes: Undoable[] = [];

  push(change: Undoable): void {
    this.changes.push(change);
    if (this.changes.length > most) this.changes.shift();
  }

  /** Undoes the last change; what it was, or null where there is none. A change that cannot be undone is not tried again. */
  async undoLast(): Promise<string | null> {
    const last = this.changes.pop();
    if (!last) return null;
    await last.undo();
    return last.what;
  }

  /** Undoes one of them, wherever it stands; nothing where it was undone already. */
  async undo(change: Undoable): Promise<void> {
    const at = this.changes.indexOf(change);
    if (at < 0) return;
    this.changes.splice(at, 1);
    await change.undo();
  }
}

const stack = new UndoStack();

/** Tells what was changed, with its undo at hand; Ctrl+Z finds it too. */
export function sayUndoable(what: string, undo: () => Promise<unknown>, description?: string): void {
  const change = { what, undo };
  stack.push(change);
  toast(what, {
    description,
    duration: 10_000,
    action: {
      label: 'Undo',
      onClick: () => void stack.undo(change).then(() => toast('Undone', { description: what }), toastProblem),
    },
  });
}

/** Undoes the last change of the page, and says what it was. */
export function undoLastChange(): void {
  stack
    .undoLast()
    .then((what) => toast(what === null ? 'Nothing to undo' : 'Undone', { description: what ?? undefined }))
    .catch(toastProblem);
}

/** Ctrl+Z (or ⌘Z) undoes the last change of the page; in a field it undoes what was typed there, as ever. */
export function useUndoKey(): void {
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.shiftKey || event.key.toLowerCase() !== 'z' || isForField(event))
        return;
      event.preventDefault();
      undoLastChange();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
}
