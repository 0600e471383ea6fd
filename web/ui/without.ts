/** A copy that lacks one of its fields: what is absent is not the same as what is said to be nothing. */
export function without<T extends object, K extends keyof T & string>(value: T, key: K): Omit<T, K> {
  return Object.fromEntries(Object.entries(value).filter(([name]) => name !== key)) as Omit<T, K>;
}
