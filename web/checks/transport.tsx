import type { Comparison } from '@relay/contract/checks';
import { Key } from '../ui/pieces.tsx';
import { PictureChoice, PictureSwitch } from '../ui/pictureChoice.tsx';
import { usePlaying } from './playhead.ts';
import type { PairPlayer } from './usePairPlayer.ts';
import { speeds } from './stretch.ts';
import type { Heard } from './usePairStream.ts';

interface TransportProps {
  player: PairPlayer;
  both: Comparison;
  labelOf: (frame: number) => string;
}

const speedNames = { 0.25: '1/4', 0.5: '1/2', 1: '1', 2: '2', 4: '4' } as const;

/** Where both stand, and how they are played and heard. */
export function Transport({ player, both, labelOf }: TransportProps) {
  return (
    <div className="flex shrink-0 flex-col gap-1 px-4 pt-1 pb-2 [&_kbd]:border-surround-line [&_kbd]:text-surround-ink">
      <PlaceRow player={player} both={both} labelOf={labelOf} />
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <span className="flex items-center gap-1">
          <PictureSwitch on={player.playing} onPress={player.toggle} className="w-14">
            {player.playing ? 'Pause' : 'Play'}
          </PictureSwitch>
          <Key>J</Key> <Key>K</Key> <Key>L</Key>
        </span>
        <Group name="Speed">
          <PictureChoice
            label="Speed"
            options={speeds}
            value={player.speed}
            say={(one) => speedNames[one]}
            onChoose={player.atSpeed}
            className="font-mono"
          />
        </Group>
        <Stretch player={player} labelOf={labelOf} />
        <Listen player={player} both={both} />
      </div>
    </div>
  );
}

function Group({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <span className="flex items-center gap-1">
      <span className="text-surround-dim">{name}</span>
      {children}
    </span>
  );
}

/** The frame that is up; what is shown of it is said. */
function PlaceRow({ player, both, labelOf }: TransportProps) {
  const { frame, drawnPerSecond, waits } = usePlaying(player.head);
  const gathers = waits !== null && waits > 1;
  const { from, to } = player.between;
  const last = Math.max(0, both.frames - 1);
  const { width, height } = both.output.played;
  return (
    <div className="flex flex-wrap items-center gap-x-4">
      <span className="w-36 font-mono text-lg text-white">{labelOf(frame)}</span>
      <span className="relative flex min-w-24 flex-1 items-center">
        <input
          type="range"
          aria-label="Frame"
          aria-valuetext={labelOf(frame)}
          min={0}
          max={last}
          value={frame}
          onChange={(event) => player.go(Number(event.target.value))}
          className="w-full accent-surround-ink"
        />
        {(from !== null || to !== null) && last > 0 && (
          <span
            aria-hidden
            className="pointer-events-none absolute bottom-0 h-0.5 bg-white"
            style={{
              left: `${((from ?? 0) / last) * 100}%`,
              width: `${(((to ?? last) - (from ?? 0)) / last) * 100}%`,
            }}
          />
        )}
      </span>
      <span className="font-mono whitespace-nowrap">
        {frame + 1} of {both.frames}
      </span>
      {player.playing && gathers && (
        <PictureSwitch on={false} onPress={player.now}>
          Play what has come
        </PictureSwitch>
      )}
      <span className="w-64 text-right text-[12px] whitespace-nowrap text-surround-dim" aria-live="off">
        {player.playing ? (
          <>
            made light, {gathers ? 'plays' : `${width}×${height}`}
            <span className="font-mono">
              {gathers ? ` in ${waits} s` : drawnPerSecond === null ? ' …' : ` ${drawnPerSecond.toFixed(1)}/s`}
            </span>
          </>
        ) : (
          'decoded in full depth'
        )}
      </span>
    </div>
  );
}

/** From where to where it is played, and whether again and again. */
function Stretch({ player, labelOf }: Omit<TransportProps, 'both'>) {
  const { between, setBetween, head } = player;
  const here = (): number => head.get().frame;
  return (
    <span role="group" aria-label="Played between" className="flex items-center">
      <PictureSwitch
        on={between.from !== null}
        onPress={() => setBetween({ ...between, from: between.from === null ? here() : null })}
      >
        {between.from === null ? 'From here' : `From ${labelOf(between.from)}`}
      </PictureSwitch>
      <PictureSwitch
        on={between.to !== null}
        onPress={() => setBetween({ ...between, to: between.to === null ? here() : null })}
      >
        {between.to === null ? 'To here' : `To ${labelOf(between.to)}`}
      </PictureSwitch>
      <PictureSwitch on={between.again} onPress={() => setBetween({ ...between, again: !between.again })}>
        Again and again
      </PictureSwitch>
    </span>
  );
}

const heardSides = ['output', 'against', 'nothing'] as const;

/** Whose sound is heard, and which channel of it. */
function Listen({ player, both }: Omit<TransportProps, 'labelOf'>) {
  const { heard, hear } = player;
  const names: Record<Heard['side'], string> = {
    output: both.output.title,
    against: both.against.title,
    nothing: 'nothing',
  };
  const channels = heard.side === 'nothing' ? 0 : both[heard.side].channels;
  return (
    <>
      <Group name="Hear">
        <PictureChoice
          label="Hear"
          options={heardSides}
          value={heard.side}
          say={(one) => names[one]}
          onChoose={(side) => hear({ side, channel: null })}
        />
      </Group>
      {heard.side !== 'nothing' && channels === 0 && <span className="text-surround-dim">it has no sound</span>}
      {channels > 1 && (
        <Group name="Channel">
          <PictureChoice
            label="Channel"
            options={[0, ...Array.from({ length: channels }, (_, index) => index + 1)]}
            value={(heard.channel ?? -1) + 1}
            say={(one) => (one === 0 ? 'all' : String(one))}
            onChoose={(one) => hear({ ...heard, channel: one === 0 ? null : one - 1 })}
            className="font-mono"
          />
        </Group>
      )}
    </>
  );
}
