import { clipRows } from '@relay/contract/routes/clips';
import { addressOf } from '../api/client.ts';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { ClipAnswer } from '@relay/contract/clips';
import { clipFacts } from '@relay/core/clip/facts';
import { fromFields } from '@relay/core/corrections/fields';
import type { Identity, IdentityField } from '@relay/core/identity/identity';
import { identityFields } from '@relay/core/identity/identity';
import { planLeg } from '@relay/core/recipe/plan';
import { sayOutput, sayPlan } from '@relay/core/recipe/sentence';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { clipQuery, commonQuery } from '../api/queries.ts';
import { SelectionCorrections } from '../corrections/selection.tsx';
import { blocks, Button, Fact, Key, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { plural, sayBytes, saySpan } from '../ui/format.ts';
import { FindingsList, GroupFindings } from './findings.tsx';
import { IdentityForm } from './identity.tsx';

interface DocketProps {
  production: string;
  onRun: () => void;
  onPattern: () => void;
}

/** The docket of one clip: its picture, what is to know and decide, identity, what a run will do, all facts. */
export function ClipDocket({
  id,
  recipe,
  production,
  onRun,
  onPattern,
}: DocketProps & { id: string; recipe: RecipeAnswer | undefined }) {
  const { data: clip, error } = useQuery(clipQuery(id));
  if (error && blocks(error, clip)) return <ProblemNote problem={problemOf(error)} />;
  if (!clip) return <Loading what="The clip" rows={6} />;
  const { description } = clip;
  return (
    <div className="flex flex-col gap-4 p-5">
      {clip.poster && (
        <Link to={`/p/${production}/clips/${id}`}>
          <img
            src={addressOf(clipRows.poster, { clip: id })}
            alt={`A picture of ${description.stem}`}
            className="max-h-44 w-full rounded-md bg-surround object-contain"
          />
        </Link>
      )}
      <div>
        <h2 className="text-[15px] font-semibold break-all">{description.stem}</h2>
        <p className="font-mono text-[11px] break-all text-faint">
          {description.path} · {sayBytes(description.sizeBytes)}
        </p>
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <Button main onClick={onRun}>
          Run 1 clip… <Key on="clay">R</Key>
        </Button>
        <Link
          to={`/p/${production}/clips/${id}`}
          className="inline-flex h-8 items-center gap-1.5 rounded-md border border-line px-3.5 hover:bg-raised"
        >
          Watch <Key>Enter</Key>
        </Link>
        {description.video && (
          <Link
            to={`/p/${production}/bench/${id}`}
            className="inline-flex h-8 items-center gap-1.5 rounded-md border border-line px-3.5 hover:bg-raised"
          >
            Bench <Key>B</Key>
          </Link>
        )}
      </div>
      <FindingsList clip={clip} production={production} />
      <section aria-label="Identity">
        <div className="mb-1 flex items-baseline justify-between">
          <h3 className="font-semibold text-dim">Identity</h3>
          <button type="button" onClick={onPattern} className="text-dim underline underline-offset-4 hover:text-ink">
            From names… <Key>P</Key>
          </button>
        </div>
        <IdentityForm
          key={`${id} ${clip.version}`}
          production={production}
          clips={[{ id, version: clip.version }]}
          values={clip.identity}
          circled={clip.identity.circled ?? false}
          from={(field) => originOf(clip, field)}
        />
      </section>
      {description.video && <SelectionCorrections key={id} production={production} ids={[id]} />}
      {description.video && recipe && <PlanSays clip={clip} recipe={recipe} />}
      <ClipFacts clip={clip} production={production} />
    </div>
  );
}

function originOf(clip: ClipAnswer, field: keyof Identity): 'person' | 'sidecar' | 'file' | null {
  if (clip.said[field] !== undefined) return 'person';
  if (clip.sidecarSaid[field] !== undefined) return 'sidecar';
  return field === 'reel' && clip.description.reel ? 'file' : null;
}

/** In plain sentences what a run will do to the clip, read from the very plan that runs. */
function PlanSays({ clip, recipe }: { clip: ClipAnswer; recipe: RecipeAnswer }) {
  const plan = planLeg(
    { ...clip.description, reel: clip.identity.reel },
    recipe.definition,
    fromFields(clip.inForce.fields),
  );
  if (!plan.ok)
    return (
      <p role="note" className="text-amber">
        {plan.problem.what}. {plan.problem.remedy}.
      </p>
    );
  return (
    <section aria-label="What a run will make" className="text-dim">
      <h3 className="mb-1 font-semibold">A run makes</h3>
      <p>
        {sayPlan(plan.value)
          .map((line) => `${line}.`)
          .join(' ')}
      </p>
      <ul className="mt-1">
        {plan.value.outputs.map((output) => (
          <li key={output.path} className="mt-1">
            <span className="block text-faint">{output.deliverable}</span>
            <span className="block font-mono text-[12px] text-ink">{sayOutput(output)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

interface ClipFactsProps {
  clip: ClipAnswer;
  production: string;
  /** Below what it stands: a page's own first heading, or a docket's. */
  heading?: 'h2' | 'h3';
}

/** All facts of a clip, its sidecars and its roll. */
export function ClipFacts({ clip, production, heading: Heading = 'h3' }: ClipFactsProps) {
  return (
    <section aria-label="Facts">
      <Heading className="mb-1 font-semibold text-dim">Facts</Heading>
      <dl>
        <Fact name="Roll">{clip.roll}</Fact>
        {clipFacts.map(([name, say]) => (
          <Fact key={name} name={name}>
            {say(clip.description)}
          </Fact>
        ))}
        <Fact name="Sidecars">
          {clip.sidecars.length === 0
            ? 'none'
            : clip.sidecars.map((path) => path.slice(path.lastIndexOf('/') + 1)).join(', ')}
        </Fact>
        <Fact name="Custody" mono={false}>
          {clip.custody ? (
            <Link className="underline underline-offset-4" to={`/p/${production}/arrivals?roll=${clip.custody.rollId}`}>
              {clip.custody.state === 'proved' ? 'proved copies of its card' : `roll is ${clip.custody.state}`}
            </Link>
          ) : (
            'read where it lies'
          )}
        </Fact>
      </dl>
    </section>
  );
}

/** The docket of a selection: what its clips have in common, identity for all, findings to decide at once. */
export function SelectionDocket({ ids, production, onRun, onPattern }: DocketProps & { ids: readonly string[] }) {
  const { data: common, error } = useQuery(commonQuery(production, ids));
  if (error && blocks(error, common)) return <ProblemNote problem={problemOf(error)} />;
  if (!common) return <Loading what="The selection" rows={6} />;
  const values = Object.fromEntries(
    identityFields.map((field) => [field, common.identity[field].same ? common.identity[field].value : undefined]),
  ) as Record<IdentityField, string | null | undefined>;
  const clips = ids.flatMap((id) => (common.versions[id] === undefined ? [] : [{ id, version: common.versions[id] }]));
  return (
    <div className="flex flex-col gap-4 p-5">
      <div>
        <h2 className="text-[15px] font-semibold">{plural(ids.length, 'clip')}</h2>
        <p className="font-mono text-[11px] text-faint">
          {common.seconds === null ? 'sound alone' : `${saySpan(common.seconds)} together`} · {sayBytes(common.bytes)}
        </p>
      </div>
      <div className="flex items-center gap-2">
        <Button main onClick={onRun}>
          Run {plural(ids.length, 'clip')}…
        </Button>
        <Key>R</Key>
        <Link
          to={`/p/${production}/bench/${ids[0] ?? ''}`}
          state={{ selection: ids }}
          className="ml-auto inline-flex h-8 items-center gap-1.5 rounded-md border border-line px-3.5 hover:bg-raised"
        >
          Bench <Key>B</Key>
        </Link>
      </div>
      <GroupFindings common={common} ids={ids} production={production} />
      <SelectionCorrections key={ids.join()} production={production} ids={ids} />
      <section aria-label="Identity">
        <div className="mb-1 flex items-baseline justify-between">
          <h3 className="font-semibold text-dim">Identity, for all of them</h3>
          <button type="button" onClick={onPattern} className="text-dim underline underline-offset-4 hover:text-ink">
            From names… <Key>P</Key>
          </button>
        </div>
        <IdentityForm
          key={clips.map((clip) => clip.version).join()}
          production={production}
          clips={clips}
          values={values}
          circled={common.circled}
        />
      </section>
      <dl>
        {common.facts.map(([name, value]) => (
          <Fact key={name} name={name}>
            {value ?? <span className="text-amber">mixed</span>}
          </Fact>
        ))}
      </dl>
    </div>
  );
}
