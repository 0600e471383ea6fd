import type { Chain } from '@relay/core/colour/chain/chain';
import { readLutFile } from '@relay/core/colour/lut/file';
import { useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { LutLine } from '@relay/contract/colour';
import { lutTextQuery } from '../api/queries.ts';
import { inputLook, toastProblem } from '../ui/pieces.tsx';
import { withCdl, withLut } from './draft.ts';

interface AddStepProps {
  production: string;
  luts: readonly LutLine[];
  onChain: (change: (now: Chain) => Chain) => void;
}

/** What can be laid into the chain next: a CDL, or anything of the cabinet. */
export function AddStep({ production, luts, onChain }: AddStepProps) {
  const client = useQueryClient();
  const add = (value: string): void => {
    if (value === 'cdl') {
      onChain((now) => withCdl(now, 'Balance'));
      return;
    }
    const lut = luts.find((one) => one.hash === value);
    if (!lut) return;
    if (lut.format !== 'cdl') {
      onChain((now) => withLut(now, lut));
      return;
    }
    // A CDL of the cabinet is taken into the chain as its numbers, so that they can be worked on.
    client.fetchQuery(lutTextQuery(lut.hash)).then(({ text, fileName }) => {
      const read = readLutFile(text, fileName);
      const op = read.ok ? read.value.ops[0] : undefined;
      if (op?.op === 'cdl') onChain((now) => withCdl(now, lut.name, op.cdl));
    }, toastProblem);
  };
  return (
    <div className="flex items-center gap-2">
      <select
        aria-label="Add a step"
        value=""
        onChange={(event) => add(event.target.value)}
        className={`${inputLook} flex-1`}
      >
        <option value="" disabled>
          Add a step…
        </option>
        <option value="cdl">CDL, neutral</option>
        {luts.map((lut) => (
          <option key={lut.hash} value={lut.hash}>
            {lut.name}: {lut.says}
            {lut.sound ? '' : ', to decide'}
          </option>
        ))}
      </select>
      <Link
        to={`/p/${production}/cabinet`}
        className="inline-flex h-8 items-center rounded-md border border-line px-3 hover:bg-raised"
      >
        Cabinet
      </Link>
    </div>
  );
}
