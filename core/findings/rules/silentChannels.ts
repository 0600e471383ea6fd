import { silentBelow } from '../../measure/sound.ts';
import { plural } from '../words.ts';
import type { Rule } from '../finding.ts';

/** Channels that carry nothing. They are kept all the same. */
export const silentChannels: Rule = {
  level: 'note',
  look: ({ measured }) => {
    const sound = measured?.sound ?? [];
    const silent = sound.flatMap((channel, index) => (channel.peak < silentBelow ? [index + 1] : []));
    if (silent.length === 0) return null;
    const all = silent.length === sound.length;
    return {
      text: all
        ? `All ${plural(sound.length, 'channel')} silent`
        : `Silent: channel${silent.length === 1 ? '' : 's'} ${silent.join(', ')} of ${sound.length}`,
      why: 'Nothing on them passes −70 dB',
      remedy: all
        ? "Find the recorder's roll if sound was expected"
        : 'Kept in order, so that channel numbers stay true',
    };
  },
};
