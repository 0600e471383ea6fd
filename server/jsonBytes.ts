import { notThere } from './http.ts';

/** An answer as the bytes of its JSON, as the desk writes it. */
export class JsonBytes<Value> {
  /** Only to tell apart what is in them. */
  declare readonly value: Value;
  constructor(readonly bytes: Buffer) {}
}

/** @throws Refused where nothing was found */
export function orNotThere<Value>(answer: JsonBytes<Value | null>, what: string): JsonBytes<Value> {
  if (answer.bytes.equals(Buffer.from('null'))) throw notThere(what);
  return answer as JsonBytes<Value>;
}
