import type { OutputAnswer, OutputLook } from '@relay/contract/checks';
import { checkRows } from '@relay/contract/routes/checks';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { sayClock } from '../ui/format.ts';
import { useKeys } from '../ui/keys.ts';
import { usePlaying, type Playhead } from './playhead.ts';
import { Button, Field, inputLook, Key, toastProblem } from '../ui/pieces.tsx';

interface LookProps {
  production: string;
  output: OutputAnswer;
  /** The frame that is seen. */
  head: Playhead;
  /** A frame as it is labelled. */
  labelOf: (frame: number) => string;
  onFrame: (frame: number) => void;
}

/** What somebody says of the output that they look at: accepted, or sent back with a note, at the frame they see. */
export function LookedAt({ production, output, head, labelOf, onFrame }: LookProps) {
  const { frame } = usePlaying(head);
  const client = useQueryClient();
  const go = useNavigate();
  const [note, setNote] = useState('');
  const say = useMutation({
    mutationFn: (verdict: OutputLook['verdict'] | 'taken back') =>
      ask(checkRows.look, {
        output: output.id,
        body: { verdict, note: verdict === 'taken back' ? '' : note, frame: verdict === 'sent back' ? frame : null },
      }),
    onSuccess: () => {
      setNote('');
      void client.invalidateQueries();
    },
    onError: toastProblem,
  });
  const again = useMutation({
    mutationFn: () => ask(checkRows.again, { output: output.id }),
    onSuccess: ({ run }) => {
      toast(`${output.original.stem} is made again`, {
        action: { label: 'To the run', onClick: () => void go(`/p/${production}/runs/${run}`) },
      });
      void client.invalidateQueries();
    },
    onError: toastProblem,
  });
  const made = output.state === 'proved' || output.state === 'needs eyes';
  const { look } = output;
  const idle = made && !say.isPending && !again.isPending;
  useKeys({
    a: () => idle && look === null && say.mutate('accepted'),
    r: () => idle && look?.verdict === 'sent back' && again.mutate(),
  });
  if (!made) return null;
  if (look)
    return (
      <section aria-label="Looked at" className="flex flex-col gap-2 rounded-lg border border-line p-3">
        <p>
          <span className="font-semibold">{look.verdict === 'accepted' ? 'Accepted' : 'Sent back'}</span>{' '}
          <span className="text-dim">
            by {look.who}, {sayClock(new Date(look.at))}
          </span>
        </p>
        {look.note !== '' && <p className="break-words">{look.note}</p>}
        <div className="flex flex-wrap gap-2">
          {look.frame !== null && <Button onClick={() => onFrame(look.frame ?? 0)}>At {labelOf(look.frame)}</Button>}
          {look.verdict === 'sent back' && (
            <Button main disabled={!idle} onClick={() => again.mutate()}>
              Make it again <Key on="clay">R</Key>
            </Button>
          )}
          <Button disabled={!idle} onClick={() => say.mutate('taken back')}>
            Take back
          </Button>
        </div>
      </section>
    );
  return (
    <section aria-label="Looked at" className="flex flex-col gap-2 rounded-lg border border-line p-3">
      <Field label="Note, if it is sent back">
        <textarea
          className={`${inputLook} h-16 resize-none py-1.5`}
          maxLength={2_000}
          value={note}
          onChange={({ target }) => setNote(target.value)}
        />
      </Field>
      <div className="flex flex-wrap gap-2">
        <Button main={output.state === 'needs eyes'} disabled={!idle} onClick={() => say.mutate('accepted')}>
          Accept <Key {...(output.state === 'needs eyes' ? { on: 'clay' as const } : {})}>A</Key>
        </Button>
        <Button disabled={!idle || note.trim() === ''} onClick={() => say.mutate('sent back')}>
          Send back at {labelOf(frame)}
        </Button>
      </div>
    </section>
  );
}
