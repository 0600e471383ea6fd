import type { InletDefinition } from '@relay/contract/inlets';
import { NumberField } from '../ui/numberField.tsx';
import { Field, inputLook } from '../ui/pieces.tsx';
import { InletBefore } from './inletBefore.tsx';
import { InletDecisions } from './inletDecisions.tsx';
import type { Part } from './inletPart.ts';

/** How long something must be quiet, and when what is taken up begins. */
export function InletWhen({ says: { quietSeconds, begin }, say }: Part) {
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="Quiet for">
        <NumberField
          label="Quiet for"
          unit="s"
          least={1}
          most={86_400}
          digits={0}
          value={quietSeconds}
          onChange={(value) => value !== null && say({ quietSeconds: value })}
        />
      </Field>
      <Field label="Begins">
        <select
          className={inputLook}
          value={begin.kind}
          onChange={({ target }) => {
            const kind = target.value as InletDefinition['begin']['kind'];
            say({ begin: kind === 'at' ? { kind, time: '22:00' } : { kind } });
          }}
        >
          <option value="at once">at once</option>
          <option value="after quiet hours">after the quiet hours</option>
          <option value="at">at a time of day</option>
        </select>
      </Field>
      {begin.kind === 'at' && (
        <Field label="From">
          <input
            className={`${inputLook} font-mono`}
            value={begin.time}
            placeholder="22:00"
            onChange={({ target }) => say({ begin: { kind: 'at', time: target.value } })}
          />
        </Field>
      )}
    </div>
  );
}

/** What is seldom said of an inlet. */
export function InletMore({ production, says, say }: Part & { production: string }) {
  return (
    <details className="rounded-lg border border-line px-3 py-2">
      <summary className="cursor-pointer text-dim">More for this inlet</summary>
      <div className="mt-3 flex flex-col gap-3">
        <InletBefore production={production} says={says} say={say} />
        <Whole says={says} say={say} />
        <InletDecisions says={says} say={say} />
        {says.source.kind === 'folders' && <After says={says} say={say} />}
        <Rest says={says} say={say} />
      </div>
    </details>
  );
}

function Whole({ says: { partner }, say }: Part) {
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="A file that says it is whole ends in">
        <input
          className={`${inputLook} font-mono`}
          placeholder="done"
          value={partner?.ending ?? ''}
          spellCheck={false}
          onChange={({ target }) =>
            say({
              partner: target.value === '' ? null : { ending: target.value, needed: partner?.needed ?? false },
            })
          }
        />
      </Field>
      {partner && (
        <label className="flex items-end gap-2 pb-1.5">
          <input
            type="checkbox"
            className="mb-1"
            checked={partner.needed}
            onChange={({ target }) => say({ partner: { ...partner, needed: target.checked } })}
          />
          nothing is taken up without
        </label>
      )}
    </div>
  );
}

/** Receipts, as they are chosen: none, one form, or both. */
const receiptChoices = [
  { said: 'none', receipts: [] },
  { said: 'JSON, for scripts', receipts: ['json'] },
  { said: 'text, for people', receipts: ['text'] },
  { said: 'both', receipts: ['json', 'text'] },
] as const;

function After({ says: { after }, say }: Part) {
  const chosen = receiptChoices.findIndex(({ receipts }) => receipts.join() === [...after.receipts].sort().join());
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="Originals that are dealt with">
        <select
          className={inputLook}
          value={after.originals}
          onChange={({ target }) => say({ after: { ...after, originals: target.value === 'move' ? 'move' : 'stay' } })}
        >
          <option value="stay">stay where they are</option>
          <option value="move">go into done or left</option>
        </select>
      </Field>
      <Field label="A receipt beside each">
        <select
          className={inputLook}
          value={chosen}
          onChange={({ target }) =>
            say({ after: { ...after, receipts: [...(receiptChoices[Number(target.value)]?.receipts ?? [])] } })
          }
        >
          {receiptChoices.map(({ said }, index) => (
            <option key={said} value={index}>
              {said}
            </option>
          ))}
        </select>
      </Field>
    </div>
  );
}

function Rest({ says: { priority, takesResults }, say }: Part) {
  return (
    <div className="grid grid-cols-2 items-end gap-3">
      <Field label="Priority of its runs">
        <NumberField
          label="Priority of its runs"
          least={-5}
          most={5}
          digits={0}
          value={priority}
          onChange={(value) => value !== null && say({ priority: value })}
        />
      </Field>
      <label className="flex items-center gap-2 pb-1.5">
        <input
          type="checkbox"
          checked={takesResults}
          onChange={({ target }) => say({ takesResults: target.checked })}
        />
        takes results of ours up, too
      </label>
    </div>
  );
}
