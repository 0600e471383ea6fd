export function plural(count: number, one: string): string {
  return `${count} ${one}${count === 1 ? '' : 's'}`;
}

/** The first few of a list, and how many more there are. */
export function someOf(items: readonly string[], shown = 3): string {
  const rest = items.length - shown;
  return `${items.slice(0, shown).join(', ')}${rest > 0 ? ` and ${rest} more` : ''}`;
}
