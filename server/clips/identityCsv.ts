import { csvRequest } from '@relay/contract/clips';
import { identityRows, parseCsv, type IdentityRows } from '@relay/core/identity/csv';
import { fail, ok, type Result } from '@relay/core/result';

/** A request with a CSV file in it, as its bytes came; what it says of clips, and the versions that its sender saw. */
export interface CsvRead {
  rows: IdentityRows;
  versions: Record<string, number> | null;
}

/** Reads such a request: done aside, for it may be anything. */
export function identityCsv({
  body,
  clips,
}: {
  body: Uint8Array;
  clips: readonly { id: string; path: string; stem: string }[];
}): Result<CsvRead> {
  let request: ReturnType<typeof csvRequest.safeParse>;
  try {
    request = csvRequest.safeParse(JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(body)));
  } catch {
    return fail('The request could not be read', 'Load the page again');
  }
  if (!request.success)
    return fail(request.error.issues[0]?.message ?? 'The request is not as expected', 'Load the page again');
  const { text, versions } = request.data;
  if (text.includes('\0') || /\p{Cs}/u.test(text))
    return fail('The file holds what is no text', 'Export it again, as CSV in UTF-8');
  const table = parseCsv(text);
  if (!table.ok) return table;
  const rows = identityRows(table.value, clips);
  return rows.ok ? ok({ rows: rows.value, versions: versions ?? null }) : rows;
}
