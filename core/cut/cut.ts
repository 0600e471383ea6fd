import type { Rational } from '../time/rational.ts';

/** Frames from one to another, `to` not among them. */
export interface Span {
  from: number;
  to: number;
}

/** A cut as data: what an edit list says, in whichever form it came. */
export interface Cut {
  title: string;
  rate: CutRate;
  /** Whether record labels are drop-frame. */
  dropFrame: boolean;
  /** The record frame that the cut begins with, counted from midnight of its record timecode. */
  start: number;
  tracks: CutTrack[];
  /** In the order of the list. */
  events: CutEvent[];
  markers: CutMarker[];
  /** Words about the whole. */
  comments: string[];
  /** What its form keeps for other programs, to be written again: JSON, unread. */
  metadata?: Metadata;
}

/** JSON that somebody else keeps in a list. */
export type Metadata = Readonly<Record<string, unknown>>;

/** The rate that record labels count in, and how it is known. */
export interface CutRate {
  rate: Rational;
  known: 'stated' | 'given' | 'by its labels';
  /** In a sentence. */
  why: string;
}

export interface CutTrack {
  /** `V1`, `A2`: what its events name it by. */
  id: string;
  kind: 'picture' | 'sound';
  /** Its name where the list has one. */
  name: string;
}

/** One piece of the cut: a stretch of a source on one track or on several. */
export interface CutEvent {
  /** As the list counts or names it. */
  number: string;
  /** The line of the list that it stands in, from 1; null where the form has none. */
  line: number | null;
  /** Tracks by their `id`. */
  tracks: string[];
  /** Where it lies in the cut: frames of the cut's rate from midnight of the record timecode. */
  record: Span;
  /** The labels of `record` as they were written; null where the form writes none. */
  recordLabels: Labels | null;
  source: CutSource;
  retime: Retime | null;
  /** How it begins; null for a cut. */
  transition: Transition | null;
  comments: string[];
  metadata?: Metadata;
}

export interface Labels {
  from: string;
  to: string;
}

/**
 * What an event shows. *black* and *generated* (made by the editing program) are found nowhere and looked for nowhere.
 */
export interface CutSource {
  kind: 'media' | 'black' | 'generated';
  reel: string | null;
  /** The clip's name. */
  clip: string | null;
  /** The media's path or address as it was written. */
  file: string | null;
  /** What its labels count in. */
  rate: Rational;
  dropFrame: boolean;
  /**
   * Frames that are shown, counted from midnight of the source's timecode, in ascending order whatever the direction:
   * without what a transition needs besides. Null where what was written is no time.
   */
  frames: Span | null;
  labels: Labels | null;
  /** Frames of the whole of the media, where the list says them. */
  available?: Span;
}

/** Another speed than the source's own. */
export type Retime =
  /** Frames of the source that go by in one of the cut's, in terms of time: 1/2 is half as fast; below zero backwards. */
  | { kind: 'speed'; speed: Rational }
  /** One frame, standing. */
  | { kind: 'freeze' };

/** How an event comes after the one before it. */
export interface Transition {
  kind: 'dissolve' | 'wipe';
  /** Its whole length in frames of the cut. */
  frames: number;
  /** Frames of it that come before the event's record in: 0 where it begins there, as edit lists of lines have it. */
  before: number;
  /** A wipe's pattern or a transition's type as it was written. */
  code: string | null;
}

export interface CutMarker {
  /** Frame of the cut, as `record` counts. */
  at: number;
  frames: number;
  text: string;
  colour: string | null;
  /** The track it sits on; null for the cut as a whole. */
  track: string | null;
}

/** Something about a list that was met while it was read and that somebody should know. */
export interface Remark {
  line: number | null;
  what: string;
}

/** A list as it was read: the cut, and what of the list could not be taken as it stands. */
export interface ReadCut {
  cut: Cut;
  remarks: Remark[];
}
