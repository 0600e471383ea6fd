import { cabinetRows } from '@relay/contract/routes/cabinet';
import type { LutAnswer, LutChange } from '@relay/contract/colour';
import type { LutFinding } from '@relay/core/colour/examine/finding';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { addressOf, ask } from '../api/client.ts';
import { lutQuery, lutTextQuery } from '../api/queries.ts';
import { rowLook } from '../ui/rowLook.ts';
import { StateSelect } from '../ui/stateSelect.tsx';
import { sayBytes } from '../ui/format.ts';
import { LevelMark } from '../ui/levelMark.tsx';
import {
  blocks,
  Button,
  CopyButton,
  Fact,
  Field,
  inputLook,
  Loading,
  ProblemNote,
  problemOf,
  toastProblem,
} from '../ui/pieces.tsx';
import { LutPlots } from './plots.tsx';

/** One LUT: what was found, what it does, what it is called, where it is used. */
export function LutDetail({ hash, production }: { hash: string; production: string }) {
  const go = useNavigate();
  const client = useQueryClient();
  const { data: lut, error, refetch } = useQuery(lutQuery(hash));
  const { data: file } = useQuery(lutTextQuery(hash));
  const [finding, setFinding] = useState<LutFinding | null>(null);
  const change = useMutation({
    mutationFn: (said: LutChange) => ask(cabinetRows.change, { hash, body: said }),
    onSuccess: () => void client.invalidateQueries({ queryKey: ['luts'] }),
    onError: toastProblem,
  });
  const putAway = useMutation({
    mutationFn: () => ask(cabinetRows.putAway, { hash }),
    onError: toastProblem,
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ['luts'] });
      toast('Put away', { description: 'Chains and old runs still find it; bring the file in again to see it here.' });
      void go(`/p/${production}/cabinet`);
    },
  });
  if (error && blocks(error, lut)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!lut) return <Loading what="The LUT" />;
  const { examined } = lut;
  const codes = (rgb: readonly number[]): string => rgb.map((x) => (x * 1023).toFixed(0)).join(' ');
  return (
    <article className="flex flex-col gap-6 p-6" aria-label={lut.name}>
      <header className="flex items-start justify-between gap-4">
        <div className="min-w-0">
          <h2 className="truncate text-lg font-semibold">{lut.name}</h2>
          <p className="truncate text-dim">
            {lut.fileName} · {lut.says} · {sayBytes(lut.sizeBytes)}
          </p>
        </div>
        <span className="flex shrink-0 gap-2">
          <a
            href={addressOf(cabinetRows.file, { hash })}
            download={lut.fileName}
            className="inline-flex h-8 items-center rounded-md border border-line px-3.5 hover:bg-raised"
          >
            Save a copy
          </a>
          <Button onClick={() => putAway.mutate()}>Put away</Button>
        </span>
      </header>
      <section aria-label="Findings">
        {examined.findings.length === 0 ? (
          <p className="flex items-center gap-2">
            <span aria-hidden className="size-2 rounded-full bg-teal" />
            Sound: nothing was found that needs a word.
          </p>
        ) : (
          <ul className="border-t border-line">
            {examined.findings.map((one) => (
              <li key={one.rule} className="border-b border-line">
                <button
                  type="button"
                  aria-pressed={finding?.rule === one.rule}
                  onClick={() => setFinding(finding?.rule === one.rule ? null : one)}
                  className={`grid w-full grid-cols-[4.5rem_1fr] gap-3 px-2 py-1.5 text-left ${rowLook({ chosen: finding?.rule === one.rule })}`}
                >
                  <span className="flex items-center gap-1.5">
                    <LevelMark level={one.level} />
                    {one.level}
                  </span>
                  <span>
                    <span className="block">{one.text}</span>
                    <span className="block text-dim">{one.remedy}.</span>
                  </span>
                </button>
              </li>
            ))}
          </ul>
        )}
        {examined.warnings.map((warning) => (
          <p key={warning} className="mt-1 text-dim">
            Passed over: {warning}.
          </p>
        ))}
      </section>
      {file && <LutPlots text={file.text} fileName={lut.fileName} finding={finding} />}
      <div className="grid gap-8 lg:grid-cols-2">
        <Said
          key={`${lut.name} ${lut.tags.join()}`}
          lut={lut}
          busy={change.isPending}
          onSay={(said) => change.mutate(said)}
        />
        <dl className="self-start">
          <Fact name="Black comes out at">{codes(examined.black)}</Fact>
          <Fact name="White comes out at">{codes(examined.white)}</Fact>
          <Fact name="Lowest, highest">{codes([examined.lowest, examined.highest])}</Fact>
          <Fact name="Looks made for" mono={false}>
            {examined.likelyLogs.length > 0
              ? examined.likelyLogs
                  .slice(0, 2)
                  .map((one) => one.name)
                  .join(' or ')
              : "no camera's log"}
          </Fact>
          <Fact name="Range it looks made for" mono={false}>
            {examined.range.in} in, {examined.range.out} out
          </Fact>
          <Fact name="SHA-256">
            <span className="inline-flex items-center gap-1">
              {hash.slice(0, 12)}…<CopyButton text={hash} label="Copy its SHA-256" />
            </span>
          </Fact>
          <Fact name="Versions" mono={false}>
            {lut.versions.map((version, index) => (
              <Link
                key={version.hash}
                to={`/p/${production}/cabinet/${version.hash}`}
                className={`block font-mono ${version.hash === hash ? '' : 'underline underline-offset-4'}`}
              >
                {version.createdAt.slice(0, 16).replace('T', ' ')}
                {index === 0 ? ', newest' : ''}
              </Link>
            ))}
          </Fact>
          <Fact name="In use" mono={false}>
            {lut.used.length === 0
              ? 'nowhere'
              : lut.used.slice(0, 8).map((place) => (
                  <span key={place.production + place.where} className="block">
                    {place.production}: {place.where}
                  </span>
                ))}
          </Fact>
          {lut.runs.length > 0 && (
            <Fact name="Runs made with it" mono={false}>
              {lut.runs.slice(0, 6).map((run) => (
                <Link
                  key={run.id}
                  to={`/p/${run.production}/runs/${run.id}`}
                  className="block underline underline-offset-4"
                >
                  {run.name}
                </Link>
              ))}
            </Fact>
          )}
        </dl>
      </div>
    </article>
  );
}

/** What people say of a LUT: its name, tags, and how it is used. */
function Said({ lut, busy, onSay }: { lut: LutAnswer; busy: boolean; onSay: (said: LutChange) => void }) {
  const [name, setName] = useState(lut.name);
  const [tags, setTags] = useState(lut.tags.join(', '));
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        onSay({
          name: name.trim(),
          tags: tags
            .split(',')
            .map((tag) => tag.trim())
            .filter(Boolean),
        });
      }}
    >
      <Field label="Name">
        <input
          className={inputLook}
          value={name}
          onChange={(event) => setName(event.target.value)}
          required
          maxLength={120}
        />
      </Field>
      <Field label="Tags, with commas">
        <input className={inputLook} value={tags} onChange={(event) => setTags(event.target.value)} />
      </Field>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Takes">
          <StateSelect label="Takes" value={lut.takes} none="as it comes" onChange={(takes) => onSay({ takes })} />
        </Field>
        <Field label="Gives">
          <StateSelect label="Gives" value={lut.gives} none="as it comes" onChange={(gives) => onSay({ gives })} />
        </Field>
        {(['rangeIn', 'rangeOut'] as const).map((side) => (
          <Field key={side} label={side === 'rangeIn' ? 'Range in' : 'Range out'}>
            <select className={inputLook} value={lut[side]} onChange={(event) => onSay({ [side]: event.target.value })}>
              <option value="full">full</option>
              <option value="legal">legal</option>
            </select>
          </Field>
        ))}
      </div>
      <div>
        <Button type="submit" disabled={busy || (name === lut.name && tags === lut.tags.join(', '))}>
          Keep name and tags
        </Button>
      </div>
    </form>
  );
}
