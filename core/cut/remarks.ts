import type { Remark } from './cut.ts';

/** Remarks kept of one list: more are counted only. */
const most = 500;

/** What is met while a list is read, as long as anybody would read on. */
export class Remarks {
  private readonly all: Remark[] = [];
  private more = 0;

  add(line: number | null, what: string): void {
    if (this.all.length < most) this.all.push({ line, what });
    else this.more += 1;
  }

  said(): Remark[] {
    return this.more > 0 ? [...this.all, { line: null, what: `${this.more} remarks more of this kind` }] : this.all;
  }
}

/** Words of a stranger within a sentence: in quotes, and no longer than a name. */
export function quoted(text: string): string {
  return JSON.stringify(text.length > 80 ? `${text.slice(0, 79)}…` : text);
}
