import { fileSystems, limitsOf, type FileSystem } from '@relay/core/handoff/fileSystem';
import { memberSystems, systemNames } from '@relay/core/naming/systemPath';
import { CutSelect } from '../cuts/cutSelect.tsx';
import { DocketForm } from '../ui/docketForm.tsx';
import { plural, sayBytes } from '../ui/format.ts';
import { Button, Field, inputLook, Loading, ProblemLine, problemOf } from '../ui/pieces.tsx';
import { Tick } from '../ui/tick.tsx';
import { HandoffFacts } from './facts.tsx';
import { PickList } from './pickList.tsx';
import { useHandoffDraft, type PreparingHandoff } from './useHandoffDraft.ts';

interface NewHandoffProps {
  production: string;
  /** Runs that are chosen already. */
  runs: readonly string[];
  onClose: () => void;
  onBegun: (id: string) => void;
}

/** A hand-off about to be made: for whom, what, where to, and what it comes to. */
export function NewHandoff({ production, runs, onClose, onBegun }: NewHandoffProps) {
  const preparing = useHandoffDraft(production, runs, onBegun);
  const { ready, begin, check, checkError, choices, choicesError } = preparing;
  return (
    <DocketForm title="Hand off" ready={ready} onSend={begin} onClose={onClose}>
      {choicesError && !choices && <ProblemLine problem={problemOf(choicesError)} />}
      <Whom {...preparing} />
      <What {...preparing} />
      <Where {...preparing} />
      {checkError && <ProblemLine problem={problemOf(checkError)} />}
      {check ? <HandoffFacts check={check} /> : !checkError && <Loading what="What it comes to" rows={3} />}
      <div className="flex flex-wrap gap-2">
        <Button main type="submit" disabled={!ready}>
          {check && check.files > 0
            ? `Copy ${plural(check.files, 'file')}, ${sayBytes(check.bytes)}`
            : 'Copy and prove'}
        </Button>
        <Button onClick={onClose}>Not now</Button>
      </div>
    </DocketForm>
  );
}

/** Whom it is for, and what their drives are. */
function Whom({ form, draft, choices, receive }: PreparingHandoff) {
  const { errors } = form.formState;
  return (
    <div className="flex flex-col gap-2">
      <Field label="For">
        <input
          className={inputLook}
          list="receivers"
          value={draft.receiver}
          placeholder="the edit, the online, a client"
          aria-invalid={errors.receiver !== undefined && draft.receiver !== ''}
          onChange={({ target }) => receive(target.value)}
        />
        <datalist id="receivers">
          {choices?.receivers.map(({ name }) => (
            <option key={name} value={name} />
          ))}
        </datalist>
      </Field>
      <div className="grid grid-cols-[1fr_9rem] gap-2">
        <Field label="Called">
          <input className={inputLook} {...form.register('name')} />
        </Field>
        <Field label="Their drive is">
          <select
            className={inputLook}
            value={draft.fileSystem ?? ''}
            onChange={({ target }) =>
              form.setValue('fileSystem', (target.value || null) as FileSystem | null, { shouldDirty: true })
            }
          >
            {fileSystems.map((one) => (
              <option key={one} value={one}>
                {limitsOf[one].name}
              </option>
            ))}
            <option value="">not known</option>
          </select>
        </Field>
      </div>
      <details>
        <summary className="cursor-pointer text-dim">Where the drive lies on their machines</summary>
        <div className="mt-2 flex flex-col gap-2">
          {memberSystems.map((system) => (
            <Field key={system} label={systemNames[system]}>
              <input
                className={`${inputLook} font-mono`}
                placeholder={{ windows: 'E:\\', mac: '/Volumes/DRIVE', linux: '/media/drive' }[system]}
                {...form.register(`roots.${system}`)}
              />
            </Field>
          ))}
        </div>
      </details>
    </div>
  );
}

/** Which outputs go. */
function What({ draft, choices, choose }: PreparingHandoff) {
  const { choice } = draft;
  if (!choices) return null;
  const plain = (values: readonly string[]) => values.map((value) => ({ value, name: value }));
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="mb-1 text-dim">What goes</legend>
      <PickList
        label="Runs"
        of={choices.runs.map(({ id, name, outputs }) => ({ value: id, name, note: String(outputs) }))}
        chosen={choice.runs}
        onChoose={(runs) => choose({ runs })}
      />
      <PickList
        label="Roles"
        of={plain(choices.roles)}
        chosen={choice.roles}
        onChoose={(roles) => choose({ roles: roles as typeof choice.roles })}
      />
      <PickList
        label="Made as"
        // Where each role is made in one way only, the roles say the same.
        of={plain(choices.deliverables.length > choices.roles.length ? choices.deliverables : [])}
        chosen={choice.deliverables}
        onChoose={(deliverables) => choose({ deliverables })}
      />
      <PickList label="Rolls" of={plain(choices.rolls)} chosen={choice.rolls} onChoose={(rolls) => choose({ rolls })} />
      <PickList label="Days" of={plain(choices.days)} chosen={choice.days} onChoose={(days) => choose({ days })} />
      {choices.filters.length > 0 && (
        <Field label="Clips that a filter finds">
          <select
            className={inputLook}
            value={choice.filter}
            onChange={({ target }) => choose({ filter: target.value })}
          >
            <option value="">all</option>
            {choices.filters.map(({ name, words }) => (
              <option key={name} value={words}>
                {name}
              </option>
            ))}
          </select>
        </Field>
      )}
      <CutSelect cuts={choices.cuts} cut={choice.cut} onChoose={(cut) => choose({ cut })} />
      <Tick on={choice.circled} onChange={(circled) => choose({ circled })}>
        circled takes only
      </Tick>
      <Tick on={choice.originals} onChange={(originals) => choose({ originals })}>
        their camera originals as well, with all that lies beside them
      </Tick>
    </fieldset>
  );
}

/** Where it is copied to. */
function Where({ form, draft, stores }: PreparingHandoff) {
  const { errors } = form.formState;
  return (
    <div className="grid grid-cols-[7rem_1fr] gap-2">
      <Field label="Drive or store">
        <select
          className={inputLook}
          value={draft.to.store}
          onChange={({ target }) =>
            form.setValue('to.store', target.value, { shouldDirty: true, shouldValidate: true })
          }
        >
          {stores.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </Field>
      <Field label="Folder">
        <input
          className={`${inputLook} font-mono`}
          aria-invalid={errors.to?.folder !== undefined}
          placeholder="the drive itself"
          {...form.register('to.folder')}
        />
      </Field>
    </div>
  );
}
