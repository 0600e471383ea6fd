import { pathOf, type AnswerOf, type Asking, type Row } from '@relay/contract/routes/route';

/** Asks the server at an address by a row; what it refuses is its answer. */
export async function askAt<One extends Row>(address: string, one: One, asking: Asking<One>): Promise<AnswerOf<One>> {
  const { body } = asking as { body?: unknown };
  const response = await fetch(`${address}/api${pathOf(one, asking)}`, {
    method: one.method,
    ...(one.method === 'GET'
      ? {}
      : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body ?? {}) }),
  });
  return (response.status === 204 ? undefined : await response.json()) as AnswerOf<One>;
}
