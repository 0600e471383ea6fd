import type { Request, RequestHandler, Response, Router } from 'express';
import { paramShape, type AnswerOf, type Carries, type ParamsOf, type Row } from '@relay/contract/routes/route';
import type { z, ZodType } from 'zod';
import { onlyText, takeBody } from './bodies.ts';
import { checked, notThere, Refused } from './http.ts';
import { JsonBytes } from './jsonBytes.ts';

/** What a request brings, as its handler is given it: a file or what is read aside as bytes, all else checked. */
type BodyOut<One extends Row> = One['carries'] extends 'aside' | { bytes: number }
  ? Buffer
  : One['body'] extends ZodType
    ? z.output<One['body']>
    : undefined;

/** What is asked by a row, checked. */
export interface Asked<One extends Row> {
  params: ParamsOf<One['path']>;
  query: One['query'] extends ZodType ? z.output<One['query']> : undefined;
  body: BodyOut<One>;
  /** Who asks. Until members sign in there is one. */
  who: string;
  request: Request;
  /** For what answers with something that is no JSON, or gives up when its page is gone. */
  response: Response;
}

/**
 * Answers what a row asks. A row that is answered with a file has its handler write it; one whose page is gone needs no
 * answer any more.
 */
export type Handler<One extends Row> = (
  asked: Asked<One>,
) => One['answer'] extends { kind: 'json' } ? Promise<AnswerOf<One> | JsonBytes<AnswerOf<One>> | Gone> : Promise<void>;

/** One for every row, none without. */
export type Handlers<Rows extends Readonly<Record<string, Row>>> = { [Name in keyof Rows]: Handler<Rows[Name]> };

/** In place of an answer that nobody waits for. */
export const gone = Symbol('gone');
export type Gone = typeof gone;

/** Tests have every answer held against its row; people are spared the time. */
const checksAnswers = process.env.RELAY_CHECK_ANSWERS === 'yes';

/** Binds a room's handlers to its rows. */
export function bind<Rows extends Readonly<Record<string, Row>>>(
  router: Router,
  rows: Rows,
  handlers: Handlers<Rows>,
): void {
  for (const [name, one] of Object.entries(rows))
    bindOne(router, one, handlers[name as keyof Rows] as unknown as AnyHandler);
}

type AnyHandler = (asked: {
  params: Record<string, string>;
  query: unknown;
  body: unknown;
  who: string;
  request: Request;
  response: Response;
}) => Promise<unknown>;

function bindOne(router: Router, one: Row, handler: AnyHandler): void {
  const method = one.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete';
  const before: RequestHandler[] = one.method === 'GET' ? [onlyText] : [takeBody(carriedBy(one)), onlyText];
  router[method](one.path, ...before, async (request, response) => {
    const answer = await handler({
      params: paramsOf(one, request),
      query: one.query ? checked(one.query, request.query) : undefined,
      body: bodyOf(one, request),
      who: member,
      request,
      response,
    });
    send(one, response, answer);
  });
}

/** Until people sign in there is one member. */
const member = 'assistant';

function carriedBy({ carries = 'few' }: Row): Carries {
  return carries;
}

/** The names of the path; what is none of its kind cannot be there. */
function paramsOf(one: Row, request: Request): Record<string, string> {
  const params: Record<string, string> = {};
  for (const [, name] of one.path.matchAll(/:(\w+)/g)) {
    const value = request.params[name as string];
    if (typeof value !== 'string' || !paramShape(name as string).test(value)) throw notThere('What you asked for');
    params[name as string] = value;
  }
  return params;
}

function bodyOf(one: Row, request: Request): unknown {
  const carries = carriedBy(one);
  if (carries === 'aside' || typeof carries === 'object') {
    const body: unknown = request.body;
    if (!Buffer.isBuffer(body) || body.length === 0)
      throw new Refused(400, { what: 'The file is empty', remedy: 'Choose it again' });
    return body;
  }
  return one.body ? checked(one.body, request.body) : undefined;
}

function send(one: Row, response: Response, answer: unknown): void {
  if (one.answer.kind === 'file' || answer === gone) return;
  if (one.answer.kind === 'nothing') {
    response.status(204).end();
    return;
  }
  if (one.answer.made) response.status(201);
  if (checksAnswers) holdAnswer(one, one.answer.schema, answer);
  if (answer instanceof JsonBytes) response.type('json').send(answer.bytes);
  else response.json(answer);
}

/** @throws Error naming the first place where an answer, as it goes out, is not as its row says */
function holdAnswer(one: Row, schema: ZodType, answer: unknown): void {
  const text = answer instanceof JsonBytes ? answer.bytes.toString('utf8') : JSON.stringify(answer);
  const found = schema.safeParse(JSON.parse(text));
  if (found.success) return;
  const [issue] = found.error.issues;
  throw new Error(
    `${one.method} ${one.path} is answered otherwise than its row says: ${issue?.path.join('.') ?? ''}: ${issue?.message ?? ''}`,
  );
}
