/** A text without any of `letters` at its end: an expression for that would look at every run of them from each of its letters. */
export function withoutEnd(text: string, letters: string): string {
  let end = text.length;
  while (end > 0 && letters.includes(text[end - 1] as string)) end -= 1;
  return text.slice(0, end);
}

/** The same at its beginning. */
export function withoutStart(text: string, letters: string): string {
  let start = 0;
  while (start < text.length && letters.includes(text[start] as string)) start += 1;
  return text.slice(start);
}
