/** How a sheet's columns stand: which are shown, in which order, and how wide those are that somebody drew. */
export interface ColumnLayout {
  /** Every column once, the hidden ones where they would come back. */
  order: readonly string[];
  hidden: ReadonlySet<string>;
  /** In pixels, of those that were drawn wider or narrower. */
  widths: Readonly<Record<string, number>>;
}

export const widthLimits = { least: 40, most: 800 } as const;

export function withinLimits(width: number): number {
  return Math.round(Math.min(widthLimits.most, Math.max(widthLimits.least, width)));
}

/**
 * A layout in one word of an address: shown columns in their order, `name` or `name-pixels`, between dots: signs
 * that addresses leave as they are. */
export function layoutAsText({ order, hidden, widths }: ColumnLayout): string {
  return order
    .filter((name) => !hidden.has(name))
    .map((name) => (widths[name] === undefined ? name : `${name}-${widths[name]}`))
    .join('.');
}

/**
 * Reads such a word. Columns that are not named are hidden, at the end; what is no column, or stands twice, is passed
 * over; `always` are shown whatever it says.
 */
export function layoutOf(text: string, columns: readonly string[], always: readonly string[]): ColumnLayout {
  const order: string[] = [];
  const widths: Record<string, number> = {};
  for (const word of text.split('.').slice(0, 100)) {
    const [name = '', width] = word.split('-');
    if (!columns.includes(name) || order.includes(name)) continue;
    order.push(name);
    if (width !== undefined && /^\d{1,4}$/.test(width)) widths[name] = withinLimits(Number(width));
  }
  const missing = always.filter((name) => !order.includes(name));
  const shown = [...missing, ...order];
  return {
    order: [...shown, ...columns.filter((name) => !shown.includes(name))],
    hidden: new Set(columns.filter((name) => !shown.includes(name))),
    widths,
  };
}

/** The layout with a column put where another stands. */
export function movedTo(layout: ColumnLayout, name: string, over: string): ColumnLayout {
  const [from, to] = [layout.order.indexOf(name), layout.order.indexOf(over)];
  if (from < 0 || to < 0 || from === to) return layout;
  const order = layout.order.filter((one) => one !== name);
  order.splice(to, 0, name);
  return { ...layout, order };
}

/** The layout with a column one place further left or right among those shown. */
export function movedBy(layout: ColumnLayout, name: string, by: -1 | 1): ColumnLayout {
  const shown = layout.order.filter((one) => !layout.hidden.has(one));
  const over = shown[shown.indexOf(name) + by];
  return over === undefined ? layout : movedTo(layout, name, over);
}

/** The layout with a column shown, or hidden. */
export function shownAs(layout: ColumnLayout, name: string, shown: boolean): ColumnLayout {
  const hidden = new Set(layout.hidden);
  if (shown) hidden.delete(name);
  else hidden.add(name);
  return { ...layout, hidden };
}
