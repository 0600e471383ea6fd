import type { Comparison } from '@relay/contract/checks';
import type { View } from './view.ts';

/** How a picture lies on its canvas, which is so many dots large. */
export interface Laid {
  both: Comparison;
  view: View;
  width: number;
  height: number;
}

/** What is said to who draws apart from the page: a picture, which is then theirs, or another way to lay the last one. */
export type ToDraw = { kind: 'picture'; picture: VideoFrame; laid: Laid } | { kind: 'laid'; laid: Laid };

/** The answer to either: the canvas as it is to be seen. */
export interface Drawn {
  kind: ToDraw['kind'];
  drawn: ImageBitmap;
}
