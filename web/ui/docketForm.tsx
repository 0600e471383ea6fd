import { useEffect, useRef, useState, type ReactNode } from 'react';

interface DocketFormProps {
  title: string;
  /** Whether what stands in it can be sent. */
  ready: boolean;
  onSend: () => void;
  onClose: () => void;
  children: ReactNode;
}

/**
 * Gives the focus to what opens, and back to where it was when it closes, unless a person has taken it elsewhere
 * meanwhile. Nothing else moves the focus.
 */
function useFocusWhileOpen(): React.RefObject<HTMLFormElement | null> {
  const form = useRef<HTMLFormElement>(null);
  const [before] = useState(() => document.activeElement as HTMLElement | null);
  useEffect(() => {
    const opened = form.current;
    // A field of its own may have it already.
    if (!opened?.contains(document.activeElement)) opened?.focus({ preventScroll: true });
    return () => {
      const now = document.activeElement;
      if (now === null || now === document.body || opened?.contains(now)) before?.focus({ preventScroll: true });
    };
  }, [before]);
  return form;
}

/** A form in a page's docket: Enter sends it where it is ready, Escape closes it. */
export function DocketForm({ title, ready, onSend, onClose, children }: DocketFormProps) {
  const form = useFocusWhileOpen();
  return (
    <form
      ref={form}
      tabIndex={-1}
      aria-label={title}
      className="flex flex-col gap-4 p-5 focus-visible:outline-none"
      onKeyDown={(event) => {
        // Enter on the form itself, as it has just opened; in a field the browser sends it.
        const sends = event.key === 'Enter' && event.target === event.currentTarget;
        if (!sends && event.key !== 'Escape') return;
        // The sheet behind has a meaning of its own for both.
        event.stopPropagation();
        if (sends) event.currentTarget.requestSubmit();
        else onClose();
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
