import type { ProResProfile } from '../size/prores.ts';
import type { Vc3Profile } from '../size/vc3.ts';

/** What codecs with several grades are called, and what each is good for. */

export const proResProfiles = {
  proxy: 'Proxy',
  lt: 'LT',
  '422': 'Standard',
  hq: 'HQ',
  '4444': '4444',
  '4444xq': 'XQ',
} as const;
export const proResNames = {
  proxy: 'ProRes 422 Proxy',
  lt: 'ProRes 422 LT',
  '422': 'ProRes 422',
  hq: 'ProRes 422 HQ',
  '4444': 'ProRes 4444',
  '4444xq': 'ProRes 4444 XQ',
} as const;
export const proResGood: Readonly<Record<ProResProfile, string>> = {
  proxy: 'light to decode; for cutting',
  lt: 'for cutting and for light finishing',
  '422': 'for finishing of well-lit pictures',
  hq: 'for finishing and grading; close to the original',
  '4444': 'for grading, keying and alpha',
  '4444xq': 'for the heaviest grading; the largest',
};
export const vc3Names: Readonly<Record<Vc3Profile, string>> = {
  lb: 'VC-3 HR LB',
  sq: 'VC-3 HR SQ',
  hq: 'VC-3 HR HQ',
  hqx: 'VC-3 HR HQX',
  '444': 'VC-3 HR 444',
};
export const vc3Good: Readonly<Record<Vc3Profile, string>> = {
  lb: 'for cutting',
  sq: 'for cutting and viewing',
  hq: 'for finishing in 8 bits',
  hqx: 'for finishing and grading in 10 bits',
  '444': 'for grading and keying',
};
export const hdNames = {
  low: 'VC-3 HD, low rate',
  standard: 'VC-3 HD, standard rate',
  high: 'VC-3 HD, high rate',
  'high-10': 'VC-3 HD, high rate, 10 bit',
} as const;
