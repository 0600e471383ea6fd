/** Thrown where a task that is done aside was ended: it took too long, or too much. */
export class TooMuch extends Error {
  readonly code = 'RELAY_TOO_MUCH';
}
