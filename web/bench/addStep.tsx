import type { Chain } from '@relay/core/colour/chain/chain';
import { readLutFile } from '@relay/core/colour/lut/file';
import { useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { LutLine } from '@relay/contract/colour';
import { lutTextQuery } from '../api/queries.ts';
import { toastProblem } from '../ui/pieces.tsx';
import { SearchChoice, type SearchOption } from '../ui/searchChoice.tsx';
import { withCdl, withLut } from './draft.ts';

interface AddStepProps {
  production: string;
  luts: readonly LutLine[];
  onChain: (change: (now: Chain) => Chain) => void;
}

function optionOf({ hash, name, says, sound }: LutLine): SearchOption {
  return { value: hash, name, note: sound ? says : `${says}, to decide` };
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
      <SearchChoice
        label="Add a step"
        shown="CDL or LUT…"
        value={null}
        nothing="Nothing of that name in the cabinet"
        groups={[
          { options: [{ value: 'cdl', name: 'CDL', note: 'neutral' }] },
          { title: 'Cabinet', options: luts.map(optionOf) },
        ]}
        onChoose={add}
      />
      <Link
        to={`/p/${production}/cabinet`}
        className="inline-flex h-8 items-center rounded-md border border-line px-3 hover:bg-raised"
      >
        Cabinet
      </Link>
    </div>
  );
}
