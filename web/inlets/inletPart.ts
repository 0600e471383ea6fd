import type { InletDefinition } from '@relay/contract/inlets';

/** A part of the form for an inlet: what stands in it, and how to say some of it anew. */
export interface Part {
  says: InletDefinition;
  say: (part: Partial<InletDefinition>) => void;
}
