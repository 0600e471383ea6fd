import type { InletDefinition } from '@relay/contract/inlets';
import { decideTitles } from '@relay/core/findings/titles';
import { X } from 'lucide-react';
import { Button, Field, inputLook } from '../ui/pieces.tsx';
import { SearchChoice } from '../ui/searchChoice.tsx';
import type { Part } from './inletPart.ts';

/** Findings that need a decision, by their names. */
const findings = Object.entries(decideTitles)
  .map(([value, name]) => ({ value, name }))
  .sort((a, b) => a.name.localeCompare(b.name));

function without(rules: InletDefinition['decideRules'], rule: string): InletDefinition['decideRules'] {
  return Object.fromEntries(Object.entries(rules).filter(([name]) => name !== rule));
}

/** What becomes of clips with findings that need a decision, and which findings are apart. */
export function InletDecisions({ says: { decide, decideRules }, say }: Part) {
  const other = decide === 'wait' ? 'go on' : 'wait';
  const apart = Object.keys(decideRules).filter((rule) => decideRules[rule] !== decide);
  return (
    <div className="flex flex-col gap-2">
      <Field label="What needs a decision">
        <select
          className={inputLook}
          value={decide}
          onChange={({ target }) => say({ decide: target.value as InletDefinition['decide'], decideRules: {} })}
        >
          <option value="go on">goes on as it is</option>
          <option value="wait">waits for a person</option>
        </select>
      </Field>
      <Field label={other === 'wait' ? 'Waits for a person all the same' : 'Goes on as it is all the same'}>
        <SearchChoice
          label={other === 'wait' ? 'Waits for a person all the same' : 'Goes on as it is all the same'}
          shown={apart.length === 0 ? 'no finding' : 'one more finding…'}
          value={null}
          groups={[{ options: findings.filter(({ value }) => !apart.includes(value)) }]}
          nothing="No finding is called that"
          onChoose={(rule) => say({ decideRules: { ...decideRules, [rule]: other } })}
        />
      </Field>
      {apart.length > 0 && (
        <ul className="flex flex-wrap gap-1.5">
          {apart.map((rule) => (
            <li key={rule}>
              <Button
                className="h-7 px-2"
                aria-label={`${decideTitles[rule] ?? rule}: as the others`}
                onClick={() => say({ decideRules: without(decideRules, rule) })}
              >
                {decideTitles[rule] ?? rule} <X className="size-3.5" aria-hidden />
              </Button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
