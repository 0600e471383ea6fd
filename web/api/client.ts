import type { ErrorAnswer } from '@relay/contract/api';
import type { Problem } from '@relay/core/result';

/** An answer that was no success: what happened and what to do, as the server words it. */
export class Refusal extends Error {
  constructor(
    readonly problem: Problem,
    readonly status: number,
  ) {
    super(problem.what);
  }
}

async function call<T>(path: string, init?: RequestInit): Promise<T> {
  const response = await fetch(`/api${path}`, init).catch(() => {
    throw new Refusal(
      { what: 'Brisk Relay does not answer', remedy: 'See that ./relay start is running; this page goes on by itself' },
      0,
    );
  });
  if (response.status === 204) return undefined as T;
  const body = (await response.json().catch(() => null)) as T | ErrorAnswer | null;
  if (!response.ok || body === null) {
    const problem =
      body && typeof body === 'object' && 'error' in body
        ? body.error
        : { what: `The server answered ${response.status}`, remedy: 'Load the page again' };
    throw new Refusal(problem, response.status);
  }
  return body as T;
}

export function get<T>(path: string): Promise<T> {
  return call<T>(path);
}

export function post<T>(path: string, body: unknown = {}, signal?: AbortSignal): Promise<T> {
  return call<T>(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
    ...(signal ? { signal } : {}),
  });
}

export function put<T>(path: string, body: unknown): Promise<T> {
  return call<T>(path, { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
}

export function remove(path: string): Promise<void> {
  return call<undefined>(path, { method: 'DELETE' });
}
