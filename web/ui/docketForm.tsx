import type { ReactNode } from 'react';

interface DocketFormProps {
  title: string;
  /** Whether what stands in it can be sent. */
  ready: boolean;
  onSend: () => void;
  onClose: () => void;
  children: ReactNode;
}

/** A form in a page's docket: Enter sends it where it is ready, Escape closes it. */
export function DocketForm({ title, ready, onSend, onClose, children }: DocketFormProps) {
  return (
    <form
      className="flex flex-col gap-4 p-5"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose();
      }}
      onSubmit={(event) => {
        event.preventDefault();
        if (ready) onSend();
      }}
    >
      <h2 className="text-[15px] font-semibold">{title}</h2>
      {children}
    </form>
  );
}
