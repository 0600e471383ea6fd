/** What of a cut's record the strip shows. */
export interface StripView {
  from: number;
  to: number;
}

/** No closer than this many frames are shown. */
const closest = 24;

/** The view moved so that it lies within a cut, no longer than that. */
export function within({ from, to }: StripView, record: StripView): StripView {
  const length = Math.min(record.to - record.from, Math.max(closest, to - from));
  const begin = Math.min(record.to - length, Math.max(record.from, from));
  return { from: begin, to: begin + length };
}

/** The view by `factor` closer, around a frame that stays where it is. */
export function zoomed({ from, to }: StripView, factor: number, around: number, record: StripView): StripView {
  return within({ from: around - (around - from) / factor, to: around + (to - around) / factor }, record);
}

/** The view moved as little as shows a stretch, with some room around it. */
export function showing(view: StripView, stretch: StripView, record: StripView): StripView {
  const length = view.to - view.from;
  const room = length / 12;
  if (stretch.from >= view.from + Math.min(room, stretch.from - record.from) && stretch.to <= view.to) return view;
  const from = stretch.from < view.from + room ? stretch.from - room : stretch.to + room - length;
  return within({ from, to: from + length }, record);
}

const nice = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1200, 1800, 3600, 7200];

/** Frames at which labels stand above the strip: whole seconds, no more than fit. */
export function stripTicks({ from, to }: StripView, perSecond: number, start: number, most: number): number[] {
  const step = (nice.find((seconds) => (to - from) / perSecond / seconds <= most) ?? 14_400) * perSecond;
  const first = start + Math.ceil((from - start) / step) * step;
  return Array.from({ length: Math.max(0, Math.floor((to - first) / step) + 1) }, (_, index) => first + index * step);
}
