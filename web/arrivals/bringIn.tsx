import type { CardAnswer } from '@relay/contract/arrivals';
import { LevelNote } from '../ui/levelMark.tsx';
import { DocketForm } from '../ui/docketForm.tsx';
import type { Place } from '../api/places.ts';
import { FolderChooser } from '../ui/folderChooser.tsx';
import { plural, sayBytes } from '../ui/format.ts';
import { Button, Fact, Field, inputLook, problemOf, ProblemLine } from '../ui/pieces.tsx';
import { sayCopyRule } from '../productions/sayCopyRule.ts';
import { isEnough } from './arrivalDraft.ts';
import { useArrivalDraft, type PreparingArrival } from './useArrivalDraft.ts';

interface BringInProps {
  production: string;
  /** The card that was chosen already, in the bay. */
  card: Place | null;
  onClose: () => void;
  onBegun: (roll: string) => void;
}

/** A card about to come in: what is on it, what it will be called, where its copies go. */
export function BringIn({ production, card, onClose, onBegun }: BringInProps) {
  const preparing = useArrivalDraft(production, card, onBegun);
  const { ready, begin, cardError, rule, destinations, stores } = preparing;
  return (
    <DocketForm title="Bring a card in" ready={ready} onSend={begin} onClose={onClose}>
      {card === null ? <CardChoice {...preparing} /> : <p className="font-mono text-dim">{card.folder}</p>}
      {cardError && <ProblemLine problem={problemOf(cardError)} />}
      {preparing.card && <CardFacts card={preparing.card} />}
      <Naming {...preparing} />
      {destinations.map((_, index) => (
        <Destination key={index} index={index} {...preparing} />
      ))}
      <Options {...preparing} />
      {rule && !isEnough(destinations, rule, stores) && (
        <LevelNote className="text-dim">
          The card will not be cleared by this: {sayCopyRule(rule)} are asked for
          {destinations.length >= rule.copies ? ', and these do not lie so far apart' : ''}.
        </LevelNote>
      )}
      <div className="flex gap-2">
        <Button main type="submit" disabled={!ready}>
          Copy and prove
        </Button>
        <Button onClick={onClose}>Not now</Button>
      </div>
    </DocketForm>
  );
}

function CardChoice({ place, allStores, choose }: PreparingArrival) {
  return (
    <div className="[&>div]:grid-cols-[8.5rem_1fr]">
      <FolderChooser
        stores="with the bay"
        place={place.store === '' ? { store: allStores[0]?.id ?? '', folder: '' } : place}
        onChoose={choose}
      />
    </div>
  );
}

/** What lies on the card, and what is odd about it. */
function CardFacts({ card }: { card: CardAnswer }) {
  const [left] = card.notCopied;
  return (
    <div aria-live="polite" className="flex flex-col gap-2">
      <dl>
        <Fact name="On it">
          {plural(card.files, 'file')}, {sayBytes(card.bytes)}
        </Fact>
        <Fact name="Of these" mono={false}>
          {plural(card.clips, 'file')} of picture or sound
        </Fact>
        {card.hasManifest && (
          <Fact name="Manifest" mono={false}>
            comes with one; it will be checked
          </Fact>
        )}
      </dl>
      <Placement placement={card.placement} />
      {card.recognised && <LevelNote>{card.recognised.says}.</LevelNote>}
      {left && (
        <LevelNote>
          {plural(card.notCopied.length, 'thing')} on it cannot be copied: {left.shownPath}, {left.why}
        </LevelNote>
      )}
    </div>
  );
}

/** A folder that was chosen one level too high, or too low. */
function Placement({ placement }: Pick<CardAnswer, 'placement'>) {
  switch (placement?.kind) {
    case 'above':
      return (
        <LevelNote>
          {placement.cards.length === 1
            ? 'The card lies one folder further in: '
            : `There are ${placement.cards.length} cards in it: `}
          {placement.cards.slice(0, 4).join(', ')}
          {placement.cards.length > 4 ? ' …' : ''}. Choose {placement.cards.length === 1 ? 'it' : 'one of them'}.
        </LevelNote>
      );
    case 'within':
      return (
        <LevelNote>
          This is the inside of a card: what lies beside it would not come along. Choose {placement.card || 'the card'}.
        </LevelNote>
      );
    default:
      return null;
  }
}

function Naming({ register, errors, days }: PreparingArrival) {
  return (
    <>
      <div className="grid grid-cols-2 gap-2">
        <Field label="Roll">
          <input
            className={`${inputLook} font-mono`}
            aria-invalid={errors.name !== undefined}
            maxLength={60}
            {...register('name')}
          />
        </Field>
        <Field label="Day">
          <input
            className={inputLook}
            aria-invalid={errors.day !== undefined}
            maxLength={60}
            list="days"
            {...register('day')}
          />
        </Field>
        <datalist id="days">
          {days.map((one) => (
            <option key={one} value={one} />
          ))}
        </datalist>
      </div>
      {errors.name?.message && (
        <p role="alert" className="text-rose">
          A roll&apos;s name takes {errors.name.message}.
        </p>
      )}
      {errors.day?.message && (
        <p role="alert" className="text-rose">
          A day takes {errors.day.message}.
        </p>
      )}
    </>
  );
}

/** Where one of the copies goes; the second lies in a folder named for the first's. */
function Destination({ index, destinations, stores, register }: PreparingArrival & { index: number }) {
  return (
    <div className="grid grid-cols-[9rem_1fr] gap-2">
      <Field label={index === 0 ? 'First copy to' : 'Second copy to'}>
        <select className={inputLook} {...register(index === 0 ? 'first' : 'other')}>
          {stores.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
      </Field>
      <Field label="In the folder">
        {index === 0 ? (
          <input className={`${inputLook} font-mono`} {...register('folder')} />
        ) : (
          <input className={`${inputLook} font-mono text-dim`} value={destinations[index]?.folder ?? ''} readOnly />
        )}
      </Field>
    </div>
  );
}

function Options({ register }: PreparingArrival) {
  return (
    <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
      <label className="flex items-center gap-2">
        <input type="checkbox" className="size-4 accent-teal" {...register('second')} />
        Second copy in the same pass
      </label>
      <label className="flex items-center gap-2">
        <input type="checkbox" className="size-4 accent-teal" {...register('alsoMd5')} />
        MD5 too
      </label>
      <label className="flex items-center gap-2 text-dim">
        Hash
        <select className={`${inputLook} w-auto`} {...register('hash')}>
          <option value="xxh128">XXH3, 128 bit</option>
          <option value="xxh64">XXH64</option>
        </select>
      </label>
    </div>
  );
}
