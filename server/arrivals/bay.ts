import { mkdir, readdir, rename } from 'node:fs/promises';
import type { BayAnswer } from '@relay/contract/arrivals';
import { under } from '@relay/core/naming/under';
import { exists } from '@relay/work/disk/place';
import type { Store } from '@relay/work/disk/store';
import { notThere, Refused } from '../http.ts';
import { bayStore, type Stores } from '../stores/stores.ts';

/** The card reader's folders: slots that cards are mounted in, and the tray beside it. */
const slots = ['slot-1', 'slot-2'] as const;
const tray = '.tray';

/**
 * A simulated card reader: demo cards lie on a tray and are put into slots and pulled out by moving their folders, as
 * sudden for whoever is reading them as the real thing. Nothing of a user's is here: the bay holds the demo's cards.
 */
export class Bay {
  constructor(private readonly stores: Stores) {}

  async look(): Promise<BayAnswer> {
    const store = await this.store();
    const inside = async (folder: string): Promise<string[]> =>
      (await readdir(under(store.path, folder)).catch(() => [])).filter((name) => !name.startsWith('.')).sort();
    return {
      store: store.id,
      tray: await inside(tray),
      slots: await Promise.all(
        slots.map(async (slot) => {
          const [card] = await inside(slot);
          return { slot, card: card ?? null, folder: card ? `${slot}/${card}` : slot };
        }),
      ),
    };
  }

  /** Puts a card into a slot, or back on the tray where the slot is null. */
  async move(card: string, slot: string | null): Promise<BayAnswer> {
    const [now, store] = [await this.look(), await this.store()];
    const from = now.tray.includes(card) ? tray : now.slots.find((one) => one.card === card)?.slot;
    const to = slot === null ? tray : slots.find((name) => name === slot);
    if (!from || !to) throw notThere('The card or the slot');
    if (to !== tray && now.slots.find((one) => one.slot === to)?.card)
      throw new Refused(409, { what: 'There is a card in this slot', remedy: 'Pull it out first' });
    await mkdir(under(store.path, to), { recursive: true });
    if (await exists(under(store.path, to, card)))
      throw new Refused(409, { what: `${card} is there already`, remedy: 'Look at the bay again' });
    await rename(under(store.path, from, card), under(store.path, to, card));
    return this.look();
  }

  private async store(): Promise<Store> {
    const store = await this.stores.get(bayStore);
    if (!store) throw notThere('The card bay');
    return store;
  }
}
