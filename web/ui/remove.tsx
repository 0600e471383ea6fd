import { useMutation, useQueryClient } from '@tanstack/react-query';
import { AlertDialog } from 'radix-ui';
import { toast } from 'sonner';
import { dialogSheet, dialogVeil } from './dialogLook.ts';
import { Button, toastProblem } from './pieces.tsx';

interface RemoveProps {
  /** What is removed, by its name. */
  what: string;
  /** What is known no more then, in a sentence; that no file is touched is said for all. */
  says: string;
  remove: () => Promise<unknown>;
  onRemoved?: () => void;
  className?: string;
}

/** Takes something out of the records, once a person has said so twice: it cannot be taken back. */
export function Remove({ what, says, remove, onRemoved, className = '' }: RemoveProps) {
  const client = useQueryClient();
  const removing = useMutation({
    mutationFn: remove,
    onSuccess: () => {
      toast(`${what} is removed`, { description: 'No file was touched.' });
      onRemoved?.();
      return client.invalidateQueries();
    },
    onError: toastProblem,
  });
  return (
    <AlertDialog.Root>
      <AlertDialog.Trigger asChild>
        <Button className={className} disabled={removing.isPending} aria-label={`Remove ${what}…`}>
          Remove…
        </Button>
      </AlertDialog.Trigger>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className={dialogVeil} />
        <AlertDialog.Content className={`${dialogSheet} w-[460px]`}>
          <AlertDialog.Title className="text-lg font-semibold break-words">Remove {what}?</AlertDialog.Title>
          <AlertDialog.Description className="mt-2 text-dim">
            {says} No file on any disk is touched. This cannot be taken back.
          </AlertDialog.Description>
          <div className="mt-5 flex justify-end gap-2">
            <AlertDialog.Cancel asChild>
              <Button>Keep it</Button>
            </AlertDialog.Cancel>
            <AlertDialog.Action asChild>
              <Button main onClick={() => removing.mutate()}>
                Remove
              </Button>
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
