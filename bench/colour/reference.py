"""OpenColorIO on the same work as bench/colour: a cube over a float picture. Prints milliseconds, one a round."""
import array
import sys
import time

import PyOpenColorIO as ocio

path, width, height, rounds = sys.argv[1], int(sys.argv[2]), int(sys.argv[3]), int(sys.argv[4])
transform = ocio.FileTransform(src=path, interpolation=ocio.INTERP_TETRAHEDRAL)
processor = ocio.Config.CreateRaw().getProcessor(transform).getDefaultCPUProcessor()
state = 1
values = array.array("f", bytes(4 * width * height * 3))
for i in range(0, len(values)):
    state = (state * 1664525 + 1013904223) & 0xFFFFFFFF
    x, y, c = (i // 3) % width, i // 3 // width, i % 3
    slope = x / width if c == 0 else y / height if c == 1 else 1 - x / width
    values[i] = 0.1 + 0.5 * slope + 0.05 * (state / 4294967296)
for _ in range(rounds):
    picture = array.array("f", values)
    image = ocio.PackedImageDesc(picture, width, height, 3)
    start = time.perf_counter()
    processor.apply(image)
    print((time.perf_counter() - start) * 1000)
