import type { BurnLayout } from '@relay/core/burn/layout';
import { anchors, type Anchor } from '@relay/core/shape/window';
import type { Box } from '../bench/drawShape.ts';

/** The nine places of the safe grid, over the picture. */
export function Places({
  box,
  layout,
  place,
  onPlace,
}: {
  box: Box;
  layout: BurnLayout;
  place: Anchor;
  onPlace: (place: Anchor) => void;
}) {
  return (
    <div
      role="group"
      aria-label="Places"
      className="absolute grid grid-cols-3 grid-rows-3"
      style={{
        left: box.x + box.width * 0.05,
        top: box.y + box.height * 0.05,
        width: box.width * 0.9,
        height: box.height * 0.9,
      }}
    >
      {anchors.map((at) => {
        const count = layout.lines.filter((line) => line.at === at).length;
        return (
          <button
            key={at}
            type="button"
            aria-pressed={place === at}
            aria-label={`${at}, ${count === 1 ? '1 line' : `${count} lines`}`}
            onClick={() => onPlace(at)}
            className={`border border-dashed ${place === at ? 'border-white/80' : 'border-white/15 hover:border-white/50'}`}
          />
        );
      })}
    </div>
  );
}
