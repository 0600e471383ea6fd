import { expect, it } from 'vitest';
import { endOfThing, folderAfter, isMovedFolder, numberedFolder } from './ending.ts';
import { isReceipt, isReceiptName, receiptName, writeReceipt, type Receipt } from './receipt.ts';

it('moves nothing before every part is proved, or left', () => {
  expect(folderAfter(['proved', 'proved'])).toBe('done');
  expect(folderAfter(['proved', 'left'])).toBe('left');
  for (const other of ['needs eyes', 'again'] as const)
    expect([folderAfter(['proved', other]), folderAfter(['left', other])], other).toEqual([null, null]);
  expect(folderAfter([])).toBeNull();
  expect([endOfThing(['proved', 'needs eyes']), endOfThing(['left', 'needs eyes'])]).toEqual(['needs eyes', 'left']);
  expect(endOfThing(['left', 'again'])).toBeNull();
});

it('knows the folders of what was dealt with by their names', () => {
  for (let turn = 1; turn < 30; turn += 1) expect(isMovedFolder(numberedFolder('done', turn)), String(turn)).toBe(true);
  for (const name of ['done.1', 'done.02', 'done/A', 'Done', 'undone', 'done.mov', 'left.x'])
    expect(isMovedFolder(name), name).toBe(false);
});

const receipt: Receipt = {
  kind: 'Brisk Relay receipt',
  version: 1,
  inlet: 'Ferry',
  thing: 'A.mov',
  end: 'left',
  at: '2026-11-28T06:00:00.000Z',
  originals: [
    {
      path: 'A.mov',
      end: 'left',
      knownAs: null,
      problem: { what: 'A.mov cannot be played', remedy: 'Copy it again' },
      outputs: [
        { deliverable: 'proxy', folder: 'Shuttle/out', path: 'A.mov', state: 'failed', sizeBytes: 0, xxh3: null },
      ],
    },
  ],
};

it('writes receipts that are told from anything else by what is in them, and by their names', () => {
  for (const form of ['json', 'text'] as const) {
    const text = writeReceipt(receipt, form);
    expect([isReceipt(text, form), isReceipt('{"kind": "other"}', form), isReceipt('', form)]).toEqual([
      true,
      false,
      false,
    ]);
    for (const turn of [1, 2, 12]) expect(isReceiptName(receiptName('A.mov', form, turn))).toBe(true);
  }
  expect(JSON.parse(writeReceipt(receipt, 'json'))).toEqual(receipt);
  expect(writeReceipt(receipt, 'text')).toContain('A.mov cannot be played. Copy it again.');
  expect(['receipt.json', 'A.receipt.mov', 'A.receipts.json'].some(isReceiptName)).toBe(false);
});
