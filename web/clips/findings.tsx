import { identityRows } from '@relay/contract/routes/identity';
import type { ClipAnswer, CommonAnswer } from '@relay/contract/clips';
import type { Decision } from '@relay/core/findings/findings';
import type { Finding } from '@relay/core/findings/finding';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../api/client.ts';
import { plural } from '../ui/format.ts';
import { LevelMark } from '../ui/levelMark.tsx';
import { toastProblem } from '../ui/pieces.tsx';

type Answer = Decision['answer'] | null;

/** Answers a finding on clips; null takes the answer back. */
export function useDecide(
  production: string,
): (clips: readonly string[], rule: string, answer: Answer, note?: string) => void {
  const client = useQueryClient();
  const decide = useMutation({
    mutationFn: (body: { clips: readonly string[]; rule: string; answer: Answer; note: string }) =>
      ask(identityRows.decide, { production, body }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['clips'] }),
    onError: toastProblem,
  });
  return (clips, rule, answer, note = '') => decide.mutate({ clips, rule, answer, note });
}

const small = 'h-7 rounded-md border border-line px-2.5 hover:bg-raised disabled:opacity-50';

/** What is to know of one clip: each with its reason and remedy, and the answers that somebody gave. */
export function FindingsList({ clip, production }: { clip: ClipAnswer; production: string }) {
  const decide = useDecide(production);
  const unseen = clip.lookProblem && (
    <p className="mt-2 flex items-baseline gap-2">
      <LevelMark level="decide" />
      It could not be looked at closely, so more may be wrong: {clip.lookProblem}
    </p>
  );
  if (clip.findings.length === 0)
    return (
      unseen || (
        <p className="text-dim">{clip.lookedAt ? 'Nothing is to know about it.' : 'It is being looked at closely.'}</p>
      )
    );
  return (
    <section aria-label="To know">
      <ul className="flex flex-col gap-3">
        {clip.findings.map((finding) => (
          <OneFinding
            key={finding.rule}
            finding={finding}
            decision={clip.decisions.find((one) => one.rule === finding.rule) ?? null}
            onDecide={(answer, note) => decide([clip.id], finding.rule, answer, note)}
          />
        ))}
      </ul>
      {unseen}
      {!clip.lookedAt && <p className="mt-2 text-faint">It is being looked at closely; more may come.</p>}
    </section>
  );
}

function OneFinding({
  finding,
  decision,
  onDecide,
}: {
  finding: Finding;
  decision: Decision | null;
  onDecide: (answer: Answer, note: string) => void;
}) {
  const [note, setNote] = useState('');
  const asks = finding.level !== 'note';
  const [open, setOpen] = useState(false);
  if (!asks && !open) {
    return (
      <li>
        <button
          type="button"
          aria-expanded={false}
          onClick={() => setOpen(true)}
          className="flex w-full items-baseline gap-2 text-left text-dim hover:text-ink"
        >
          <LevelMark level={finding.level} />
          {finding.text}
        </button>
      </li>
    );
  }
  return (
    <li>
      <p className="flex items-baseline gap-2">
        <LevelMark level={finding.level} decided={decision !== null} />
        <span className={asks && !decision ? 'font-semibold' : ''}>{finding.text}</span>
      </p>
      <p className="pl-4 text-dim">
        {finding.why}. {finding.remedy}.
      </p>
      {decision && (
        <p className="mt-1 flex items-baseline justify-between gap-2 pl-4">
          <span>
            {decision.answer === 'as it is' ? 'Runs as it is' : 'Left out of runs'}, says {decision.by}
            {decision.note ? `: ${decision.note}` : ''}
          </span>
          <button
            type="button"
            onClick={() => onDecide(null, '')}
            className="shrink-0 text-dim underline underline-offset-4 hover:text-ink"
          >
            Take back
          </button>
        </p>
      )}
      {asks && !decision && (
        <div className="mt-1.5 flex flex-wrap items-center gap-2 pl-4">
          <button type="button" className={small} onClick={() => onDecide('as it is', note)}>
            {finding.level === 'stop' ? 'Run it all the same' : 'Run it as it is'}
          </button>
          <button type="button" className={small} onClick={() => onDecide('leave out', note)}>
            Leave it out
          </button>
          <input
            aria-label="Why"
            placeholder="why, if you like"
            value={note}
            onChange={(event) => setNote(event.target.value)}
            maxLength={400}
            className="h-7 min-w-0 flex-1 rounded-md border border-line bg-ground px-2 placeholder:text-faint"
          />
        </div>
      )}
    </li>
  );
}

/** What is to know of a selection, with one answer for all that have it. */
export function GroupFindings({
  common,
  ids,
  production,
}: {
  common: CommonAnswer;
  ids: readonly string[];
  production: string;
}) {
  const decide = useDecide(production);
  if (common.findings.length === 0) return null;
  return (
    <ul aria-label="To know" className="flex flex-col gap-2">
      {common.findings.map((finding) => (
        <li key={finding.rule}>
          <p className="flex items-baseline gap-2">
            <LevelMark level={finding.level} decided={finding.level !== 'note' && finding.undecided === 0} />
            <span className={finding.level === 'note' ? 'text-dim' : ''}>{finding.text}</span>
            <span className="ml-auto shrink-0 font-mono text-faint">{plural(finding.clips, 'clip')}</span>
          </p>
          {finding.level !== 'note' && finding.undecided > 0 && (
            <div className="mt-1 flex gap-2 pl-4">
              <button type="button" className={small} onClick={() => decide(ids, finding.rule, 'as it is')}>
                Run {finding.undecided} as they are
              </button>
              <button type="button" className={small} onClick={() => decide(ids, finding.rule, 'leave out')}>
                Leave out
              </button>
            </div>
          )}
        </li>
      ))}
    </ul>
  );
}
