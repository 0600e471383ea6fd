import type { z, ZodType } from 'zod';

/**
 * Routes as data. A row says how something is asked for, what is answered, and who may ask; the server binds a handler
 * to each row, the page asks by the row, and neither writes a path.
 */

/** Who may ask. Until members sign in, everybody is the assistant. */
export type Who = 'assistant';

/**
 * How much a request may bring. *few*: some things of one thing. *lists*: ids of twenty thousand clips, or a whole
 * recipe. *aside*: a whole production's CSV, which is read in a thread. *bytes*: a file, up to so many.
 */
export type Carries = 'few' | 'lists' | 'aside' | { bytes: number };

/** Answered with JSON of this shape, with nothing, or with something that is no JSON: a picture, a table, a file. */
export type Answered = { kind: 'json'; schema: ZodType; made?: true } | { kind: 'nothing' } | { kind: 'file' };

export interface Row {
  method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  /** Below `/api`, with `:names` for what `paramShapes` knows. */
  path: `/${string}`;
  who: Who;
  query?: ZodType;
  body?: ZodType;
  carries?: Carries;
  answer: Answered;
}

/** A row as it stands, with the types of all that is in it. */
export function row<const One extends Row>(one: One): One {
  return one;
}

/** JSON of this shape; `made` where asking makes something. */
export function json<Schema extends ZodType>(schema: Schema): { kind: 'json'; schema: Schema } {
  return { kind: 'json', schema };
}

export function made<Schema extends ZodType>(schema: Schema): { kind: 'json'; schema: Schema; made: true } {
  return { kind: 'json', schema, made: true };
}

export const nothing = { kind: 'nothing' } as const;
export const file = { kind: 'file' } as const;

const uuid = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;
/** What may stand in a path where a row has a name; every other name is an id. */
const otherShapes: Readonly<Record<string, RegExp>> = {
  hash: /^[0-9a-f]{64}$/,
  store: /^[^/]{1,80}$/,
  format: /^(csv|json)$/,
  place: /^\d{1,7}$/,
};

export function paramShape(name: string): RegExp {
  return otherShapes[name] ?? uuid;
}

/** The names in a path: `/runs/:run/relink.:format` has `run` and `format`. */
export type ParamsOf<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Record<Name, string> & ParamsOf<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? Record<Name, string>
    : unknown;

/** What a handler answers, and whoever asked is given. */
export type AnswerOf<One extends Row> = One['answer'] extends { kind: 'json'; schema: infer Schema extends ZodType }
  ? z.output<Schema>
  : undefined;

type Carried<One extends Row> = One['carries'] extends { bytes: number } ? Blob : BodyIn<One['body']>;
type BodyIn<Body> = Body extends ZodType ? z.input<Body> : undefined;

/** What is given to ask by a row: the names of its path, its query, its body. */
export type Asking<One extends Row> = ParamsOf<One['path']> &
  (One['query'] extends ZodType
    ? object extends z.input<One['query']>
      ? { query?: z.input<One['query']> }
      : { query: z.input<One['query']> }
    : unknown) &
  (One['carries'] extends { bytes: number }
    ? { body: Blob }
    : One['body'] extends ZodType
      ? { body: Carried<One> }
      : unknown) & { signal?: AbortSignal };

/** The address of a row, below `/api`. */
export function pathOf(one: Row, asking: object): string {
  const given = asking as Record<string, string> & { query?: Record<string, string | number | undefined> };
  const path = one.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(given[name] ?? ''));
  const search = new URLSearchParams();
  for (const [name, value] of Object.entries(given.query ?? {}))
    if (value !== undefined) search.set(name, String(value));
  const words = search.toString();
  return words === '' ? path : `${path}?${words}`;
}
