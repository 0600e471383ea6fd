import { isReceipt, receiptName, writeReceipt, type Receipt, type ReceiptForm } from '@relay/core/inlet/receipt';
import { under } from '@relay/core/naming/under';
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
