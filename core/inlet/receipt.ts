import type { Problem } from '../result.ts';
import type { PartEnd, ThingEnd } from './ending.ts';

/** What is written down beside originals once they were dealt with: for scripts, and for people. */

export const receiptForms = ['json', 'text'] as const;
export type ReceiptForm = (typeof receiptForms)[number];

/** One output of an original. */
export interface ReceiptOutput {
  deliverable: string;
  /** The folder that its path is below: with its store's name where the site has one. */
  folder: string;
  path: string;
  state: string;
  sizeBytes: number;
  xxh3: string | null;
}

/** One original. */
export interface ReceiptPart {
  /** Below the inlet's folder, as it lies now. */
  path: string;
  end: PartEnd;
  /** What it was known as, where nothing was made of it for that. */
  knownAs: string | null;
  problem: Pick<Problem, 'what' | 'remedy'> | null;
  outputs: readonly ReceiptOutput[];
}

export interface Receipt {
  kind: 'Brisk Relay receipt';
  version: 1;
  /** The inlet's name. */
  inlet: string;
  /** What was taken up. */
  thing: string;
  end: ThingEnd;
  /** When it ended, as ISO 8601 in UTC. */
  at: string;
  originals: readonly ReceiptPart[];
}

const endings: Readonly<Record<ReceiptForm, string>> = { json: 'json', text: 'txt' };
const firstWords = 'Brisk Relay receipt';

/** What a receipt is called that lies beside `path`; from the second turn on with a number, where the name is taken. */
export function receiptName(path: string, form: ReceiptForm, turn = 1): string {
  return `${path}.receipt${turn === 1 ? '' : `.${turn}`}.${endings[form]}`;
}

/** Whether a file is called as receipts are: nothing is made of it. */
export function isReceiptName(name: string): boolean {
  return /\.receipt(?:\.\d+)?\.(?:json|txt)$/.test(name);
}

/** Whether a text is a receipt of ours, which a newer one may take the place of. */
export function isReceipt(text: string, form: ReceiptForm): boolean {
  return form === 'text' ? text.startsWith(firstWords) : text.startsWith(`{\n  "kind": "${firstWords}"`);
}

/** A receipt as it is written. */
export function writeReceipt(receipt: Receipt, form: ReceiptForm): string {
  return form === 'json' ? `${JSON.stringify(receipt, null, 2)}\n` : inWords(receipt);
}

function inWords({ inlet, thing, end, at, originals }: Receipt): string {
  const lines = [firstWords, '', `${thing}: ${end}`, `by the inlet ${inlet}, ${at}`];
  for (const { path, end: own, knownAs, problem, outputs } of originals) {
    lines.push('', `${path}: ${own}${knownAs === null ? '' : `, known as ${knownAs}`}`);
    if (problem) lines.push(`  ${problem.what}. ${problem.remedy}.`);
    for (const { deliverable, folder, path: output, state, sizeBytes, xxh3 } of outputs)
      lines.push(
        `  ${deliverable}: ${folder}/${output}`,
        `    ${state}, ${sizeBytes} bytes, xxh3 ${xxh3 ?? 'unknown'}`,
      );
  }
  return `${lines.join('\n')}\n`;
}
