import { recipeRows } from '@relay/contract/routes/recipes';
import { runRows } from '@relay/contract/routes/runs';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { Recipe } from '@relay/core/recipe/recipe';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { ask } from '../api/client.ts';
import { storesQuery } from '../api/queries.ts';
import { Button, Bytes, Fact, Field, inputLook, problemOf, toastProblem } from '../ui/pieces.tsx';
import { Range } from '../recipes/makes.tsx';
import { plural, sayClock, saySpan, slug } from '../ui/format.ts';
import { useSettled } from '../ui/useSettled.ts';

interface PrepareProps {
  production: { id: string; name: string; runs: number };
  /** Ids of the clips. */
  clips: readonly string[];
  recipes: readonly RecipeAnswer[];
  onClose: () => void;
}

/** Before a run starts: what it will make, where, how much space it may need, and what stands in its way. */
export function PrepareRun({ production, clips, recipes, onClose }: PrepareProps) {
  const go = useNavigate();
  const { data: allStores = [] } = useQuery(storesQuery);
  const stores = allStores.filter((one) => !one.bay);
  const [recipeId, setRecipe] = useState(recipes[0]?.id ?? '');
  const recipe = recipes.find((one) => one.id === recipeId) ?? recipes[0];
  const [storeId, setStore] = useState('');
  // Outputs never lie among the originals, so the last store is proposed, not the one that was read.
  const store = storeId || stores.at(-1)?.id || '';
  const [folder, setFolder] = useState(slug(production.name, 'outputs'));
  const [name, setName] = useState(`Run ${production.runs + 1}`);
  const client = useQueryClient();
  const [inWaves, setInWaves] = useState(false);
  const [notBefore, setNotBefore] = useState('');
  const [wantedBy, setWantedBy] = useState('');
  const choice = { clips, recipe: recipe?.id ?? '', store, folder };
  const asked = { ...choice, folder: useSettled(folder) };
  const check = useQuery({
    queryKey: ['run-check', production.id, asked],
    queryFn: ({ signal }) => ask(runRows.check, { production: production.id, body: asked, signal }),
    enabled: store !== '' && recipe !== undefined && clips.length > 0,
    gcTime: 0,
  });
  const start = useMutation({
    mutationFn: () =>
      ask(runRows.begin, {
        production: production.id,
        body: {
          ...choice,
          name,
          asTheyAre: true,
          inWaves,
          notBefore: nextAt(notBefore),
          wantedBy: nextAt(wantedBy),
        },
      }),
    onSuccess: (run) => void go(`/p/${production.id}/runs/${run.id}`),
    onError: toastProblem,
  });
  const mend = useMutation({
    mutationFn: (definition: Recipe) =>
      ask(recipeRows.change, {
        recipe: recipe?.id ?? '',
        body: { definition, group: recipe?.group ?? '', note: recipe?.note ?? '', seen: recipe?.version ?? 0 },
      }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['recipes'] });
      await client.invalidateQueries({ queryKey: ['run-check'] });
    },
    onError: toastProblem,
  });
  const sampled = useQuery({
    queryKey: ['run-forecast', production.id, choice],
    enabled: false,
    gcTime: 0,
    retry: false,
    queryFn: ({ signal }) => ask(runRows.forecast, { production: production.id, body: choice, signal }),
  });
  // What was sampled is closer than what rates tell.
  const facts =
    check.data && sampled.data
      ? {
          ...check.data,
          bytes: sampled.data.bytes,
          seconds: sampled.data.seconds ?? check.data.seconds,
          deliverables: check.data.deliverables.map((one) => ({
            ...one,
            ...sampled.data.deliverables.find(({ deliverable }) => deliverable === one.deliverable),
          })),
        }
      : check.data;
  const gone = stores.find((one) => one.id === store && one.freeBytes === null);
  const tooFull = facts !== undefined && facts.bytesAtMost > facts.freeBytes - facts.promisedBytes;
  const ready = facts !== undefined && facts.clips > 0 && !tooFull && !start.isPending && asked.folder === folder;
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (ready) button.current?.focus();
  }, [ready]);
  return (
    <form
      className="flex flex-col gap-4 p-5"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose();
      }}
      onSubmit={(event) => {
        event.preventDefault();
        if (ready) start.mutate();
      }}
    >
      <h2 className="text-[15px] font-semibold">Run {plural(clips.length, 'clip')}</h2>
      <Field label="Name">
        <input
          className={inputLook}
          value={name}
          onChange={(event) => setName(event.target.value)}
          required
          maxLength={120}
        />
      </Field>
      <Field label="Recipe">
        <select className={inputLook} value={recipe?.id ?? ''} onChange={(event) => setRecipe(event.target.value)}>
          {recipes.map((one) => (
            <option key={one.id} value={one.id}>
              {one.definition.name}: {one.definition.deliverables.map((d) => d.name.toLowerCase()).join(', ')}
            </option>
          ))}
        </select>
      </Field>
      <div className="grid grid-cols-[9rem_1fr] gap-2">
        <Field label="Store">
          <select className={inputLook} value={store} onChange={(event) => setStore(event.target.value)}>
            {stores.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </Field>
        <Field label="Folder">
          <input
            className={`${inputLook} font-mono`}
            value={folder}
            onChange={(event) => setFolder(event.target.value)}
          />
        </Field>
      </div>
      <Field label="Order">
        <select
          className={inputLook}
          value={inWaves ? 'waves' : 'one'}
          onChange={(event) => setInWaves(event.target.value === 'waves')}
        >
          <option value="one">clip by clip, one decode for all of it</option>
          <option value="waves">proxies of everything first, a second decode for intermediates</option>
        </select>
      </Field>
      <div className="grid grid-cols-2 gap-2">
        <Field label="Begin at">
          <Hour value={notBefore} placeholder="at once" onChange={setNotBefore} />
        </Field>
        <Field label="Wanted by">
          <Hour value={wantedBy} placeholder="07:00" onChange={setWantedBy} />
        </Field>
      </div>
      {check.error && (
        <p role="alert" className="text-rose">
          {problemOf(check.error).what}. {problemOf(check.error).remedy}.
        </p>
      )}
      {facts && (
        <div aria-live="polite">
          <dl>
            <Fact name="Will be made">
              <span>
                {plural(facts.outputs, 'output')} of {plural(facts.clips, 'clip')}
              </span>
            </Fact>
            {facts.deliverables.map((one) => (
              <Fact key={one.deliverable} name={one.deliverable} mono={false}>
                <Range bytes={one.bytes} />
              </Fact>
            ))}
            {facts.deliverables.length > 1 && (
              <Fact name="All together" mono={false}>
                <Range bytes={facts.bytes} />
              </Fact>
            )}
            {!gone && (
              <Fact name="Free there" mono={false}>
                <Bytes value={facts.freeBytes} />
              </Fact>
            )}
            {facts.promisedBytes > 0 && (
              <Fact name="When its turn comes" mono={false}>
                <Bytes value={Math.max(0, facts.freeBytes - facts.promisedBytes)} />
              </Fact>
            )}
            <Fact name="Takes" mono={false}>
              {facts.seconds
                ? `${saySpan(facts.seconds.likely)} to ${saySpan(facts.seconds.most)}`
                : 'told once a few clips have run here'}
            </Fact>
            {facts.seconds && (
              <Fact name="Ready about" mono={false}>
                {sayClock(new Date(begins(notBefore) + facts.seconds.likely * 1000))}
                {late(wantedBy, begins(notBefore) + facts.seconds.most * 1000) ? (
                  <span className="text-amber"> may be late</span>
                ) : null}
              </Fact>
            )}
          </dl>
          {sampled.error && (
            <p role="alert" className="mt-2 text-rose">
              {problemOf(sampled.error).what}.
            </p>
          )}
          {sampled.data ? (
            <p className="mt-2 text-[12px] text-faint">
              By sampled pictures of {sampled.data.sampled} of {plural(sampled.data.of, 'clip')}.
            </p>
          ) : (
            facts.deliverables.some(({ known }) => known === 'roughly' || known === 'by published rates') && (
              <Button className="mt-2 w-full" disabled={sampled.isFetching} onClick={() => void sampled.refetch()}>
                {sampled.isFetching ? 'Sampling pictures…' : 'Sample pictures for a closer forecast'}
              </Button>
            )
          )}
          {gone && (
            <Warn tone="rose" title={`${gone.name} is not there`}>
              Mount it, or choose another store.
            </Warn>
          )}
          {tooFull && !gone && (
            <Warn tone="rose" title="It may not fit">
              Choose another store, or fewer clips.
            </Warn>
          )}
          {facts.clashes > 0 && (
            <Warn tone="rose" title={`${plural(facts.clashes, 'path')} cannot be made`}>
              {facts.remedy ? (
                <Button
                  className="mt-1"
                  disabled={mend.isPending}
                  onClick={() => {
                    if (facts.remedy) mend.mutate(facts.remedy.definition);
                  }}
                >
                  {facts.remedy.text}
                </Button>
              ) : (
                'Change the path pattern of the recipe.'
              )}
            </Warn>
          )}
          {facts.superseded > 0 && (
            <Warn
              tone="amber"
              title={`${plural(facts.superseded, 'output was', 'outputs were')} made otherwise before`}
            >
              Made again; what is there is set aside under superseded/ once the new one is proved.
            </Warn>
          )}
          {facts.taken.length > facts.superseded && (
            <Warn
              tone="amber"
              title={`${plural(facts.taken.length - facts.superseded, 'name is', 'names are')} taken already`}
            >
              Outputs that an earlier run recorded are proved again and kept; any other file is left as it is, and its
              clip says so.
            </Warn>
          )}
          {facts.refused.slice(0, 20).map((line) => (
            <Warn key={line.clip} tone="rose" title={line.path}>
              {line.problem.what}. {line.problem.remedy}.
            </Warn>
          ))}
          {facts.refused.length > 20 && (
            <Warn tone="rose" title={`and ${facts.refused.length - 20} more that cannot be made`}>
              Their reasons are of the same kinds; each clip's leg will say its own.
            </Warn>
          )}
          {facts.keptOut.length > 0 && (
            <Warn tone="rose" title={`${plural(facts.keptOut.length, 'clip is', 'clips are')} kept out`}>
              <ul>
                {facts.keptOut.slice(0, 20).map((line) => (
                  <li key={line.clip}>
                    <span className="font-mono text-ink">{nameOf(line.path)}</span> {line.why}
                  </li>
                ))}
              </ul>
              {facts.keptOut.length > 20 && `and ${facts.keptOut.length - 20} more`}
            </Warn>
          )}
          {facts.toDecide.length > 0 && (
            <Warn tone="amber" title={`To decide on ${plural(facts.toDecide.length, 'clip')}`}>
              <ul>
                {facts.toDecide.slice(0, 20).map((line) => (
                  <li key={line.clip}>
                    <span className="font-mono text-ink">{nameOf(line.path)}</span>{' '}
                    {line.findings.map((finding) => finding.text).join('; ')}
                  </li>
                ))}
              </ul>
              {facts.toDecide.length > 20 && <p>and {facts.toDecide.length - 20} more</p>}
              Starting runs them as they are, and writes down that you said so. To leave one out, answer its finding
              first.
            </Warn>
          )}
          {facts.notLooked > 0 && (
            <Warn tone="amber" title={`${plural(facts.notLooked, 'clip is', 'clips are')} still being looked at`}>
              More may be found about them; wait a moment, or start all the same.
            </Warn>
          )}
        </div>
      )}
      <div className="flex items-center gap-2">
        <button
          ref={button}
          type="submit"
          disabled={!ready}
          className="inline-flex h-8 items-center rounded-md bg-clay px-3.5 font-semibold text-on-clay hover:brightness-110 disabled:opacity-50"
        >
          {facts && facts.toDecide.length > 0 ? 'Start, with them as they are' : 'Start'}
        </button>
        <Button onClick={onClose}>Not now</Button>
      </div>
    </form>
  );
}

/** An hour of the next 24, `HH:MM`; the browser's own field follows its language, not the room's clock. */
function Hour({
  value,
  placeholder,
  onChange,
}: {
  value: string;
  placeholder: string;
  onChange: (value: string) => void;
}) {
  const wrong = value !== '' && nextAt(value) === null;
  return (
    <input
      inputMode="numeric"
      maxLength={5}
      placeholder={placeholder}
      aria-invalid={wrong}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className={`${inputLook} font-mono ${wrong ? 'border-rose' : ''}`}
    />
  );
}

/** The next time the clock shows `HH:MM`, as ISO 8601; null for none. */
function nextAt(time: string): string | null {
  const parts = /^([01]?\d|2[0-3]):([0-5]\d)$/.exec(time.trim());
  if (!parts) return null;
  const next = new Date();
  next.setHours(Number(parts[1]), Number(parts[2]), 0, 0);
  if (next.getTime() <= Date.now()) next.setDate(next.getDate() + 1);
  return next.toISOString();
}

function begins(time: string): number {
  const at = nextAt(time);
  return at ? Date.parse(at) : Date.now();
}

function late(wantedBy: string, ready: number): boolean {
  const wanted = nextAt(wantedBy);
  return wanted !== null && ready > Date.parse(wanted);
}

/** The last part of a path. */
function nameOf(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

function Warn({ tone, title, children }: { tone: 'amber' | 'rose'; title: string; children: React.ReactNode }) {
  return (
    <div className="mt-3 text-dim">
      <p className="flex items-baseline gap-2 text-ink">
        <span
          aria-hidden
          className={
            tone === 'amber' ? 'size-2 shrink-0 rotate-45 bg-amber' : 'size-2.5 shrink-0 rounded-[2px] bg-rose'
          }
        />
        <span className="break-all">{title}</span>
      </p>
      <div className="pl-4">{children}</div>
    </div>
  );
}
