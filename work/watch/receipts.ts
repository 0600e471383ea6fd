import type { OutputEnd } from '@relay/contract/watch';
import {
  isReceipt,
  receiptName,
  writeReceipt,
  type Receipt,
  type ReceiptForm,
  type ReceiptOutput,
  type ReceiptPart,
} from '@relay/core/inlet/receipt';
import { under } from '@relay/core/naming/under';
import type { Problem } from '@relay/core/result';
import { holding, type Root } from '../disk/held.ts';
import { exists, readText, writeWhole } from '../disk/place.ts';

/** A receipt of ours is smaller. */
const largest = 64_000_000;

/**
 * Lays a receipt beside something in an inlet's folder, in each form that is wanted. An older one of ours is replaced;
 * whatever else has the name keeps it.
 */
export async function layReceipt(
  root: Root,
  beside: string,
  receipt: Receipt,
  forms: readonly ReceiptForm[],
): Promise<void> {
  for (const form of forms)
    await holding(async (held) => {
      for (let turn = 1; ; turn += 1) {
        const path = await held.place(root, receiptName(beside, form, turn));
        const free = !(await exists(path)) || isReceipt(await readText(path, largest).catch(() => ''), form);
        if (!free) continue;
        await writeWhole(path, writeReceipt(receipt, form));
        return;
      }
    });
}

/** What lies in an inlet's folder and ended together. */
export interface EndedThing {
  kind: 'structure' | 'files';
  /** Its names in the folder: of a structure the folder. */
  names: readonly string[];
  /** The folder it was moved to; empty where it stays. */
  lies: string;
}

/** Lays the receipts of a thing: of a structure one beside its folder, of files one beside each original. */
export async function layReceipts(
  root: Root,
  { kind, names, lies }: EndedThing,
  receipt: Receipt,
  forms: readonly ReceiptForm[],
): Promise<void> {
  const now = (path: string): string => (lies === '' ? path : under(lies, path));
  const originals = receipt.originals.map((part) => ({ ...part, path: now(part.path) }));
  const [first] = names;
  if (kind === 'structure' && first !== undefined) await layReceipt(root, now(first), { ...receipt, originals }, forms);
  else for (const part of originals) await layReceipt(root, part.path, { ...receipt, originals: [part] }, forms);
}

function receiptOutput({ deliverable, folder, path, state, sizeBytes, xxh3 }: OutputEnd): ReceiptOutput {
  return { deliverable, folder, path, state, sizeBytes, xxh3 };
}

/** What is said of a part of a thing beside it. */
export function partOf(
  path: string,
  end: ReceiptPart['end'],
  rest: { knownAs?: string; problem?: Problem; outputs?: readonly OutputEnd[] } = {},
): ReceiptPart {
  const { knownAs = null, problem, outputs = [] } = rest;
  const said = problem ? { what: problem.what, remedy: problem.remedy } : null;
  return { path, end, knownAs, problem: said, outputs: outputs.map(receiptOutput) };
}
