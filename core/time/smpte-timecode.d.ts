/** The part of the reference library that the tests use; it ships no types of its own in a form that resolves. */
declare module 'smpte-timecode' {
  export default class Timecode {
    constructor(frames: number, rate: number, dropFrame: boolean);
    toString(): string;
  }
}
