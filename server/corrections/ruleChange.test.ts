import type { FieldValues } from '@relay/core/corrections/fields';
import { expect, it } from 'vitest';
import { ruleChange, type Rule, type SaidOf } from './ruleChange.ts';

const [keep, mute] = [{ kind: 'keep' }, { kind: 'none' }] as unknown as [FieldValues['sound'], FieldValues['sound']];
const rule = (scope: Rule['scope'], key: string, field: Rule['field'] = 'sound'): Rule => ({
  field,
  scope,
  key,
  value: keep,
});
/** Clips *a* and *b* of roll A001, *c* of A002. */
const clips = [
  { id: 'a', roll: 'A001' },
  { id: 'b', roll: 'A001' },
  { id: 'c', roll: 'A002' },
];
const saidOf = (scope: SaidOf['scope'], key: string, some = clips, whole: string[] = []): SaidOf => ({
  places: scope === 'clip' ? some.map(({ id }) => ({ scope, key: id })) : [{ scope, key }],
  scope,
  clips: some,
  wholeRolls: new Set(whole),
});
const places = (rules: readonly Rule[]): string[] => rules.map(({ scope, key }) => `${scope} ${key}`);

it('nearer rules in the way go, and those of other clips and fields stay', () => {
  const existing = [
    rule('clip', 'a'),
    rule('clip', 'z'),
    rule('roll', 'A001'),
    rule('group', 'g'),
    rule('production', ''),
    rule('clip', 'b', 'repair'),
  ];
  const { set, gone } = ruleChange(existing, ['sound'], { sound: mute }, saidOf('group', 'g', clips, ['A001', 'A002']));
  expect(set).toEqual([{ field: 'sound', scope: 'group', key: 'g', value: mute }]);
  expect(places(gone)).toEqual(['clip a', 'roll A001']);
});

it('a roll of which only a part is meant keeps its rule, and its clips that are meant are told one by one', () => {
  const existing = [rule('roll', 'A001'), rule('clip', 'a'), rule('roll', 'A002')];
  const { set, gone } = ruleChange(existing, ['sound'], { sound: mute }, saidOf('group', 'g', clips.slice(0, 1), []));
  expect(places(set)).toEqual(['group g', 'clip a']);
  // Its clip's own rule is written over, not taken away; the other roll is not meant at all.
  expect(places(gone)).toEqual([]);
});

it('said of clips alone nothing nearer is in the way, and a roll is not split', () => {
  const existing = [rule('roll', 'A001'), rule('clip', 'a')];
  const { set, gone } = ruleChange(existing, ['sound'], { sound: mute }, saidOf('clip', '', clips.slice(0, 2)));
  expect([places(set), places(gone)]).toEqual([['clip a', 'clip b'], []]);
});

it('what is cleared loses its rule there and all nearer ones in the way', () => {
  const existing = [
    rule('production', ''),
    rule('group', 'g'),
    rule('roll', 'A001'),
    rule('roll', 'A002'),
    rule('clip', 'c'),
  ];
  const all = saidOf('production', '', clips, ['A001']);
  expect(places(ruleChange(existing, ['sound'], {}, all).gone)).toEqual([
    'group g',
    'roll A001',
    'clip c',
    'production ',
  ]);
  expect(ruleChange(existing, ['repair'], {}, all)).toEqual({ set: [], gone: [] });
});
