/** A day as burn-ins state it, by this machine's clock: `2026-11-24`. */
export function dayOf(date: Date): string {
  return [date.getFullYear(), date.getMonth() + 1, date.getDate()]
    .map((part) => String(part).padStart(2, '0'))
    .join('-');
}
