import type { Chain } from '@relay/core/colour/chain/chain';
import { sayChain } from '@relay/core/colour/chain/say';
import { formatSqueeze, squeezes } from '@relay/core/shape/pixelAspects';
import { equal } from '@relay/core/time/rational';
import { useQuery } from '@tanstack/react-query';
import { benchGroupsQuery } from '../api/queries.ts';
import { Field, inputLook } from '../ui/pieces.tsx';
import type { Part } from './inletPart.ts';

/** What is said of clips as they arrive, where nobody has said anything. */
export function InletBefore(props: Part & { production: string }) {
  return (
    <>
      <BeforeColour {...props} />
      <BeforeRest {...props} />
    </>
  );
}

/** The chain that clips get of which nobody said one: chosen from those that are in use in the production. */
function BeforeColour({ production, says: { before }, say }: Part & { production: string }) {
  const { data: groups = [] } = useQuery(benchGroupsQuery(production));
  const inUse = new Map(groups.flatMap(({ chain, says }) => (chain ? [[JSON.stringify(chain), says ?? '']] : [])));
  const own = before.colour === null ? '' : JSON.stringify(before.colour);
  if (before.colour && !inUse.has(own)) inUse.set(own, sayChain(before.colour));
  return (
    <Field label="Chain, where none is said">
      <select
        className={inputLook}
        value={own}
        onChange={({ target }) =>
          say({ before: { ...before, colour: target.value === '' ? null : (JSON.parse(target.value) as Chain) } })
        }
      >
        <option value="">none</option>
        {[...inUse].map(([value, name]) => (
          <option key={value} value={value}>
            {name}
          </option>
        ))}
      </select>
      {inUse.size === 0 && <span className="text-dim">A chain that is used on the bench can be chosen here.</span>}
    </Field>
  );
}

function BeforeRest({ says: { before }, say }: Part) {
  const chosen = before.squeeze ? formatSqueeze(before.squeeze) : '';
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="Lens squeeze, where none is said">
        <select
          className={inputLook}
          value={chosen}
          onChange={({ target }) => {
            const row = squeezes.find(({ squeeze }) => formatSqueeze(squeeze) === target.value);
            say({ before: { ...before, squeeze: row?.squeeze ?? null } });
          }}
        >
          <option value="">none</option>
          {squeezes
            .filter(({ squeeze }) => !equal(squeeze, { num: 1, den: 1 }))
            .map(({ squeeze, written }) => (
              <option key={written} value={formatSqueeze(squeeze)}>
                {written}
              </option>
            ))}
        </select>
      </Field>
      <Field label="Reel from the name, where it has none">
        <input
          className={`${inputLook} font-mono`}
          placeholder="[name 1-4]"
          value={before.reel ?? ''}
          spellCheck={false}
          onChange={({ target }) => say({ before: { ...before, reel: target.value === '' ? null : target.value } })}
        />
      </Field>
    </div>
  );
}
