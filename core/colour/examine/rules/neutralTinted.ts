import { code, stretches, type LutRule } from '../finding.ts';

/** From this share of full scale on a cast is seen beside a neutral. */
const seen = 4 / 1023;

/** Greys come out coloured. A look may mean it; a technical LUT never does. */
export const neutralTinted: LutRule = (facts) => {
  const cast = (i: number): number => {
    const [r, g, b] = [
      facts.neutral[i * 3] as number,
      facts.neutral[i * 3 + 1] as number,
      facts.neutral[i * 3 + 2] as number,
    ];
    return Math.max(r, g, b) - Math.min(r, g, b);
  };
  let worst = 0;
  for (let i = 1; i < facts.inputs.length; i += 1) if (cast(i) > cast(worst)) worst = i;
  if (cast(worst) < seen) return null;
  const names = ['red', 'green', 'blue'];
  const values = [0, 1, 2].map((c) => facts.neutral[worst * 3 + c] as number);
  const strongest = names[values.indexOf(Math.max(...values))] as string;
  return {
    rule: 'neutralTinted',
    level: 'note',
    text: `Greys turn ${strongest}, most at ${code(facts.inputs[worst] as number)}: ${values.map(code).join(' ')} of 1023`,
    remedy: 'A look may mean it; a technical LUT should not',
    picture: { kind: 'neutral', marks: stretches(facts, (i) => cast(i) >= seen) },
  };
};
