import { expect, it } from 'vitest';
import { missingCsv, missingText, type Wanted } from './missing.ts';

const wanted = (number: string, reel: string | null, sourceIn: string | null, more: Partial<Wanted> = {}): Wanted => ({
  number,
  reel,
  clip: null,
  file: null,
  sourceIn,
  sourceOut: sourceIn,
  recordIn: '01:00:00:00',
  why: 'No original here has it',
  ...more,
});

it('what is missing is said by reel, each stretch of timecode below it', () => {
  const events = [
    wanted('7', 'E001', '17:40:00:00'),
    wanted('3', 'D002', '09:00:00:00', { clip: 'D002C001' }),
    wanted('2', 'E001', '17:31:04:00'),
    wanted('9', null, null, { file: '/x/gulls.wav' }),
  ];
  expect(missingText('Cut 1', events)).toBe(
    [
      'Cut 1: 4 events are not found. Wanted:',
      '',
      '/x/gulls.wav',
      '  no timecode to no timecode (event 9)',
      'D002',
      '  09:00:00:00 to 09:00:00:00, D002C001 (event 3)',
      'E001',
      '  17:31:04:00 to 17:31:04:00 (event 2)',
      '  17:40:00:00 to 17:40:00:00 (event 7)',
      '',
    ].join('\n'),
  );
  expect(missingText('Cut 1', [])).toBe('Cut 1: nothing is missing.\n');
});

it('as a table it runs nothing in a spreadsheet', () => {
  const [head, row] = missingCsv([wanted('1', '=cmd()', '00:00:00:00', { why: 'a, "b"' })]).split('\r\n');
  expect(head).toBe('reel,clip,file,source in,source out,event,record in,why');
  expect(row).toBe(`'=cmd(),,,00:00:00:00,00:00:00:00,1,01:00:00:00,"a, ""b"""`);
});
