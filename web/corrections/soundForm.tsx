import { flatChannels } from '@relay/core/sound/map';
import { Button } from '../ui/pieces.tsx';
import { Choice, Row } from './row.tsx';
import { type FormProps, useFieldState } from './formProps.ts';

/** Which channels go where, in a word; the matrix is on the bench. */
export function SoundForm(props: FormProps) {
  const { clip, onChange } = props;
  const { now, row } = useFieldState(props);
  const sound = now('sound') ?? { kind: 'keep' as const };
  const channels = flatChannels(clip.audio);
  if (channels.length === 0) return <p className="text-dim">No sound in the original.</p>;
  const picked = sound.kind === 'pick' ? sound.channels : channels.map((_, index) => index);
  const toggle = (index: number): void => {
    const next = picked.includes(index)
      ? picked.filter((one) => one !== index)
      : [...picked, index].sort((a, b) => a - b);
    if (next.length > 0) onChange({ sound: { kind: 'pick', channels: next } });
  };
  const kind = sound.kind === 'fold' ? sound.to : sound.kind;
  return (
    <Row name={`Channels (${channels.length})`} {...row('sound')}>
      <Choice
        label="Channels"
        mixed={row('sound').mixed}
        value={kind}
        options={[
          ['keep', 'all kept in order'],
          ['pick', 'some kept, a track each'],
          ['stereo', 'folded to stereo'],
          ['mono', 'folded to mono'],
          ['matrix', "a matrix of one's own"],
        ]}
        onChange={(value) =>
          onChange({
            sound:
              value === 'pick'
                ? { kind: 'pick', channels: picked }
                : value === 'stereo' || value === 'mono'
                  ? { kind: 'fold', to: value }
                  : value === 'matrix'
                    ? { kind: 'matrix', tracks: channels.map((_, channel) => ({ channels: [[{ channel, gain: 1 }]] })) }
                    : null,
          })
        }
      />
      {sound.kind === 'pick' && (
        <div className="flex flex-wrap gap-1">
          {channels.map((_, index) => (
            <Button
              key={index}
              aria-pressed={picked.includes(index)}
              className={`h-7 px-2 font-mono ${picked.includes(index) ? 'bg-raised' : ''}`}
              onClick={() => toggle(index)}
            >
              {index + 1}
            </Button>
          ))}
        </div>
      )}
    </Row>
  );
}
