"""Runs OpenColorIO on triplets, as a reference for tests: a JSON request on standard input, JSON triplets on standard output.

{"kind": "builtin", "name": ..., "inverse": false} | {"kind": "file", "path": ..., "interpolation": "tetrahedral|linear|best", "inverse": false}
| {"kind": "cdl", "slope": [...], "offset": [...], "power": [...], "saturation": 1, "inverse": false}, each with "values": [[r, g, b], ...];
"chain": [request, ...] runs several after each other.
"""
import json
import sys

import PyOpenColorIO as ocio


def transform(request):
    direction = ocio.TRANSFORM_DIR_INVERSE if request.get("inverse") else ocio.TRANSFORM_DIR_FORWARD
    kind = request["kind"]
    if kind == "builtin":
        return ocio.BuiltinTransform(style=request["name"], direction=direction)
    if kind == "file":
        names = {"tetrahedral": ocio.INTERP_TETRAHEDRAL, "linear": ocio.INTERP_LINEAR, "best": ocio.INTERP_BEST, "default": ocio.INTERP_DEFAULT}
        made = ocio.FileTransform(src=request["path"], interpolation=names[request.get("interpolation", "linear")], direction=direction)
        made.setCDLStyle(ocio.CDL_ASC)
        return made
    if kind == "cdl":
        made = ocio.CDLTransform(slope=request["slope"], offset=request["offset"], power=request["power"], sat=request["saturation"], direction=direction)
        made.setStyle(ocio.CDL_ASC)
        return made
    raise SystemExit("unknown kind " + kind)


request = json.load(sys.stdin)
config = ocio.Config.CreateRaw()
group = ocio.GroupTransform()
for one in request.get("chain", [request]):
    group.appendTransform(transform(one))
# Nothing is merged or approximated: the reference is what each step is defined to be.
processor = config.getProcessor(group).getOptimizedCPUProcessor(ocio.OPTIMIZATION_NONE)
json.dump([processor.applyRGB(list(value)) for value in request["values"]], sys.stdout)
