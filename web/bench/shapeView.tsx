import type { BenchAnswer } from '@relay/contract/bench';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { exactShares } from '@relay/core/shape/intoRaster';
import { codecRow } from '@relay/core/recipe/codecs';
import { formatRaster } from '@relay/core/shape/raster';
import { formatFraction, toNumber } from '@relay/core/time/rational';
import { useState } from 'react';
import { drawBurn } from '../burn/drawBurn.ts';
import { useLaidImage } from '../burn/useLaidImage.ts';
import { PictureChoice, PictureSwitch } from '../ui/pictureChoice.tsx';
import { PictureCanvas } from '../ui/pictureCanvas.tsx';
import { problemOf } from '../ui/pieces.tsx';
import { drawAfter, drawBefore, inside } from './drawShape.ts';
import { useStill } from './still.ts';

/** The picture as stored and as it will be, each at its true shape on screen, with what is used and where it lies. */
export function ShapeView({
  bench,
  outputs,
  frame,
}: {
  bench: BenchAnswer;
  outputs: readonly OutputPlan[];
  frame: number;
}) {
  const video = bench.description.video as NonNullable<BenchAnswer['description']['video']>;
  const { image, error } = useStill(bench.clip, frame, 1280);
  const [which, setWhich] = useState(0);
  const output = outputs[Math.min(which, outputs.length - 1)];
  const geometry = output?.video.geometry;
  const laid = useLaidImage(output?.burn?.image?.image);
  const [marks, setMarks] = useState({ guides: true, circle: false });
  const draw = (context: CanvasRenderingContext2D, size: { width: number; height: number }): void => {
    if (!image || !geometry || !output) return;
    const half = size.width / 2;
    drawBefore(
      context,
      inside(
        { x: 10, y: 8, width: half - 16, height: size.height - 16 },
        (video.raster.width * toNumber(video.pixelAspect)) / video.raster.height,
      ),
      image,
      { geometry, raster: video.raster },
      marks.circle,
    );
    const box = inside(
      { x: half + 6, y: 8, width: half - 16, height: size.height - 16 },
      (geometry.raster.width * toNumber(geometry.pixelAspect)) / geometry.raster.height,
    );
    drawAfter(context, box, image, { geometry, video }, marks);
    if (output.burn) drawBurn(context, box, output.burn, frame, laid);
  };
  return (
    <>
      <div className="flex h-10 shrink-0 items-center gap-3 px-3">
        <PictureChoice
          label="Shown for"
          options={outputs.map((_, index) => index)}
          value={outputs.findIndex((one) => one === output)}
          say={(index) => outputs[index]?.deliverable ?? ''}
          onChoose={setWhich}
        />
        <span role="group" aria-label="Marks" className="ml-auto flex">
          <PictureSwitch on={marks.guides} onPress={() => setMarks({ ...marks, guides: !marks.guides })}>
            Guides
          </PictureSwitch>
          <PictureSwitch on={marks.circle} onPress={() => setMarks({ ...marks, circle: !marks.circle })}>
            Circle test
          </PictureSwitch>
        </span>
      </div>
      {error && (
        <p role="alert" className="px-4 py-2">
          {problemOf(error).what}. {problemOf(error).remedy}.
        </p>
      )}
      <PictureCanvas label="The picture as stored, and as it will be at its true shape" draw={draw} />
      <div className="flex shrink-0 justify-between px-3 py-1.5">
        <span>As stored, as tagged</span>
        <span>{output?.deliverable ?? ''}</span>
      </div>
      {geometry && output && (
        <table className="mx-3 mb-3 shrink-0 text-left font-mono text-[12px]">
          <thead className="font-sans text-surround-dim">
            <tr>
              <th scope="col" className="py-1 font-normal">
                Stage
              </th>
              <th scope="col" className="font-normal">
                Raster
              </th>
              <th scope="col" className="font-normal">
                Pixels
              </th>
              <th scope="col" className="text-right font-normal">
                Shown as
              </th>
            </tr>
          </thead>
          <tbody>
            {geometry.stages.map((stage) => (
              <tr key={stage.name} className="border-t border-surround-line">
                <td className="py-1 font-sans">{stage.name}</td>
                <td>{formatRaster(stage.raster)}</td>
                <td>{formatFraction(stage.pixelAspect, ':')}</td>
                <td className="text-right">{toNumber(stage.displayAspect).toFixed(4)}:1</td>
              </tr>
            ))}
            <tr className="border-t border-surround-line">
              <td className="py-1 font-sans">active area</td>
              <td>{formatRaster(geometry.active)}</td>
              <td>
                at {geometry.active.x}, {geometry.active.y}
              </td>
              <td className="text-right">
                {Math.abs(geometry.aspectError) < 1e-9
                  ? 'shape exact'
                  : `${(Math.abs(geometry.aspectError) * 100).toFixed(4)} % too ${geometry.aspectError > 0 ? 'wide' : 'narrow'}`}
              </td>
            </tr>
            <tr className="border-t border-surround-line">
              <td className="py-1 font-sans">exact smaller</td>
              <td colSpan={3}>
                {exactShares(geometry.raster, codecRow(output.codec).steps)
                  .map((share) => `1/${share.of} ${formatRaster(share.raster)}`)
                  .join('   ') || 'none'}
              </td>
            </tr>
          </tbody>
        </table>
      )}
    </>
  );
}
