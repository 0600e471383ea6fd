/**
 * Which rows of the sheet are selected, and where the keyboard is. Rows are named by their ids, so sorting moves
 * nothing.
 */
export interface Selection {
  chosen: ReadonlySet<string>;
  /** Where the arrows are. */
  at: string | null;
  /** Where a stretch chosen with shift began. */
  from: string | null;
}

export const nothing: Selection = { chosen: new Set(), at: null, from: null };

/** All of these, as if the first had been clicked and the last with shift. */
export function all(ids: readonly string[]): Selection {
  return { chosen: new Set(ids), at: ids[0] ?? null, from: ids[0] ?? null };
}

function between(ids: readonly string[], a: string | null, b: string): string[] {
  const [i, j] = [a === null ? -1 : ids.indexOf(a), ids.indexOf(b)];
  return i < 0 ? [b] : ids.slice(Math.min(i, j), Math.max(i, j) + 1);
}

/** A click on a row: alone, added to the rest (control), or with all between (shift). */
export function clicked(
  selection: Selection,
  ids: readonly string[],
  id: string,
  how: { shift: boolean; control: boolean },
): Selection {
  if (how.shift) {
    const stretch = between(ids, selection.from ?? selection.at, id);
    return {
      chosen: new Set(how.control ? [...selection.chosen, ...stretch] : stretch),
      at: id,
      from: selection.from ?? selection.at ?? id,
    };
  }
  if (how.control) return toggled({ ...selection, at: id });
  return { chosen: new Set([id]), at: id, from: id };
}

/** Space: the row under the keyboard added or taken away. */
export function toggled(selection: Selection): Selection {
  if (selection.at === null) return selection;
  const chosen = new Set(selection.chosen);
  if (!chosen.delete(selection.at)) chosen.add(selection.at);
  return { chosen, at: selection.at, from: selection.at };
}

/** An arrow key: one row (or many) on; with shift the selection goes along. */
export function moved(selection: Selection, ids: readonly string[], by: number, shift: boolean): Selection {
  if (ids.length === 0) return selection;
  const now = selection.at === null ? (by > 0 ? -1 : ids.length) : ids.indexOf(selection.at);
  const at = ids[Math.min(ids.length - 1, Math.max(0, now + by))] as string;
  if (!shift) return { chosen: new Set([at]), at, from: at };
  const from = selection.from ?? selection.at ?? at;
  return { chosen: new Set(between(ids, from, at)), at, from };
}

/** What is left of a selection when only `ids` are shown. */
export function within(selection: Selection, ids: readonly string[]): Selection {
  const shown = new Set(ids);
  const chosen = new Set([...selection.chosen].filter((id) => shown.has(id)));
  return {
    chosen,
    at: selection.at && shown.has(selection.at) ? selection.at : null,
    from: selection.from && shown.has(selection.from) ? selection.from : null,
  };
}

/** So many clips are named in an address at most: longer ones are cut off by mail programs and servers. */
const mostNamed = 30;

/**
 * What is selected, as an address says it: `all` of what is listed, or ids between dots, the one under the keyboard
 * first; null for nothing, and for more than an address holds.
 */
export function selectionAsText({ chosen, at }: Selection, ids: readonly string[]): string | null {
  if (chosen.size === 0) return null;
  if (chosen.size === ids.length && ids.length > 1) return 'all';
  if (chosen.size > mostNamed) return null;
  const first = at !== null && chosen.has(at) ? [at] : [];
  return [...first, ...[...chosen].filter((id) => id !== first[0])].join('.');
}

/** Reads such a word; clips that are not listed are passed over. */
export function selectionOf(text: string | null, ids: readonly string[]): Selection {
  if (text === 'all') return all(ids);
  const listed = new Set(ids);
  return all((text ?? '').split('.', mostNamed).filter((id) => listed.has(id)));
}
