/** The core's tetrahedral arithmetic (core/colour/lut/eval3d.ts), on a texture that is read point by point. */
const tetrahedral = `
uniform highp sampler3D cube;
uniform int points;
uniform vec3 domainMin;
uniform vec3 domainMax;
vec3 throughCube(vec3 rgb) {
  float last = float(points - 1);
  vec3 p = clamp((rgb - domainMin) / (domainMax - domainMin) * last, 0.0, last);
  ivec3 i = ivec3(min(floor(p), last - 1.0));
  vec3 f = p - vec3(i);
  ivec3 first; ivec3 second; float high; float middle; float low;
  if (f.r > f.g) {
    if (f.g > f.b) { first = ivec3(1, 0, 0); second = ivec3(1, 1, 0); high = f.r; middle = f.g; low = f.b; }
    else if (f.r > f.b) { first = ivec3(1, 0, 0); second = ivec3(1, 0, 1); high = f.r; middle = f.b; low = f.g; }
    else { first = ivec3(0, 0, 1); second = ivec3(1, 0, 1); high = f.b; middle = f.r; low = f.g; }
  } else if (f.b > f.g) { first = ivec3(0, 0, 1); second = ivec3(0, 1, 1); high = f.b; middle = f.g; low = f.r; }
  else if (f.b > f.r) { first = ivec3(0, 1, 0); second = ivec3(0, 1, 1); high = f.g; middle = f.b; low = f.r; }
  else { first = ivec3(0, 1, 0); second = ivec3(1, 1, 0); high = f.g; middle = f.r; low = f.b; }
  return (1.0 - high) * texelFetch(cube, i, 0).rgb + (high - middle) * texelFetch(cube, i + first, 0).rgb
    + (middle - low) * texelFetch(cube, i + second, 0).rgb + low * texelFetch(cube, i + ivec3(1), 0).rgb;
}`;

/** Before and after of one frame, one sample of the picture at a time, in the way asked for. */
export const pictureShader = `#version 300 es
precision highp float;
precision highp int;
precision highp usampler2D;
uniform usampler2D luma;
uniform usampler2D blue;
uniform usampler2D red;
uniform mat3 toSignal;
uniform vec3 offset;
uniform bool hasCube;
uniform vec2 canvas;
uniform vec2 frame;
uniform vec2 centre;   // sample in the middle of a pane
uniform vec2 scale;    // canvas dots to a sample, across and down
uniform int mode;      // 0 side by side, 1 wipe, 2 difference, 3 before, 4 after
uniform float wipe;    // share of the width
out vec4 colour;
${tetrahedral}
void main() {
  vec2 at = vec2(gl_FragCoord.x, canvas.y - gl_FragCoord.y);
  bool after = mode == 2 || mode == 4;
  float left = 0.0;
  float width = canvas.x;
  if (mode == 0) {
    width = floor(canvas.x / 2.0);
    after = at.x >= width;
    if (after) left = width;
    if (abs(at.x - width) < 1.0) { colour = vec4(vec3(0.169), 1.0); return; }
  } else if (mode == 1) after = at.x >= wipe * canvas.x;
  vec2 sampleAt = centre + (at - vec2(left + width / 2.0, canvas.y / 2.0)) / scale;
  if (sampleAt.x < 0.0 || sampleAt.y < 0.0 || sampleAt.x >= frame.x || sampleAt.y >= frame.y) { colour = vec4(vec3(0.169), 1.0); return; }
  ivec2 texel = ivec2(sampleAt);
  vec3 codes = vec3(texelFetch(luma, texel, 0).r, texelFetch(blue, texel, 0).r, texelFetch(red, texel, 0).r) / 65535.0;
  vec3 before = toSignal * codes + offset;
  vec3 shown = before;
  if (after && hasCube) shown = throughCube(before);
  if (mode == 2) shown = abs(clamp(shown, 0.0, 1.0) - clamp(before, 0.0, 1.0)) * 2.0;
  if (mode == 1 && abs(at.x - wipe * canvas.x) < 1.0) shown = vec3(0.85);
  colour = vec4(clamp(shown, 0.0, 1.0), 1.0);
}`;

/** Triplets through the cube as numbers, to be held against core. */
export const probeShader = `#version 300 es
precision highp float;
precision highp int;
uniform highp sampler2D triplets;
out vec4 colour;
${tetrahedral}
void main() { colour = vec4(throughCube(texelFetch(triplets, ivec2(gl_FragCoord.xy), 0).rgb), 1.0); }`;
