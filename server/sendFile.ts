import type { Response } from 'express';
import { Refused } from './http.ts';

/** A file that is sent: held open, and what it is called. */
export interface Sent {
  /** The path of its descriptor. */
  path: string;
  name: string;
  /** To be stored under its own name, and not shown. */
  keep: boolean;
  /** Its own checksum, which is its mark: what is made again is another file. Null where nobody took it. */
  xxh3: string | null;
}

/** Sends a held file, or the range of it that is asked for; ends when it is sent, or whoever asked has gone. */
export async function sendHeld(response: Response, { path, name, keep, xxh3 }: Sent): Promise<void> {
  if (keep) response.attachment(name);
  else response.type(name.slice(name.lastIndexOf('.')));
  await new Promise<void>((resolve, reject) => {
    response.sendFile(
      path,
      { etag: false, headers: xxh3 === null ? {} : { ETag: `"${xxh3}"` }, cacheControl: false },
      (error) => {
        // Whoever goes away in the middle is no fault of ours.
        if (!error || response.headersSent) resolve();
        else if ((error as { status?: number }).status === 416)
          reject(new Refused(400, { what: `${name} has no such range`, remedy: 'Download it from its beginning' }));
        else reject(error);
      },
    );
  });
}
