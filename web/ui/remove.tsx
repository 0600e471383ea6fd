import { useMutation, useQueryClient } from '@tanstack/react-query';
import { AlertDialog } from 'radix-ui';
import { toast } from 'sonner';
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
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-black/50" />
        <AlertDialog.Content className="fixed top-1/2 left-1/2 z-50 w-[460px] max-w-[92vw] -translate-x-1/2 -translate-y-1/2 rounded-xl border border-line bg-sheet p-6">
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
