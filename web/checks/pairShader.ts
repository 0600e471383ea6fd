/**
 * Two pictures in full depth on one plane, each drawn where it lies. Places on the plane are in its own unit, places on
 * the canvas in dots from its top left corner.
 */
export const pairShader = `#version 300 es
precision highp float;
precision highp int;
precision highp usampler2D;
uniform usampler2D luma[2];
uniform usampler2D blue[2];
uniform usampler2D red[2];
uniform mat3 toSignal[2];
uniform vec3 offset[2];
uniform bool there[2];     // there is anything to show yet
uniform vec4 box[2];       // on the plane: left, top, width, height
uniform vec2 canvas;
uniform vec2 centre;       // of the plane, in the middle of a pane
uniform float scale;       // dots to the plane's unit
uniform bool smoothly;
uniform int mode;          // 0 side by side, 1 wipe, 2 difference, 3 the left one alone, 4 the right one alone
uniform float wipe;        // share of the width
uniform float gain;
out vec4 colour;
const vec3 surround = vec3(0.169);

vec3 texelOf(usampler2D y, usampler2D b, usampler2D r, ivec2 at, ivec2 size) {
  ivec2 p = clamp(at, ivec2(0), size - 1);
  return vec3(texelFetch(y, p, 0).r, texelFetch(b, p, 0).r, texelFetch(r, p, 0).r) / 65535.0;
}
vec3 stillAt(usampler2D y, usampler2D b, usampler2D r, vec2 share) {
  ivec2 size = textureSize(y, 0);
  vec2 at = share * vec2(size);
  if (!smoothly) return texelOf(y, b, r, ivec2(at), size);
  vec2 corner = at - 0.5;
  ivec2 i = ivec2(floor(corner));
  vec2 f = corner - vec2(i);
  return mix(mix(texelOf(y, b, r, i, size), texelOf(y, b, r, i + ivec2(1, 0), size), f.x),
    mix(texelOf(y, b, r, i + ivec2(0, 1), size), texelOf(y, b, r, i + ivec2(1, 1), size), f.x), f.y);
}
// Samplers are named by whole numbers alone.
vec3 sideAt(int side, vec2 share) {
  vec3 codes = side == 0 ? stillAt(luma[0], blue[0], red[0], share) : stillAt(luma[1], blue[1], red[1], share);
  return clamp(toSignal[side] * codes + offset[side], 0.0, 1.0);
}
bool inside(int side, vec2 place, out vec2 share) {
  share = (place - box[side].xy) / box[side].zw;
  return there[side] && share.x >= 0.0 && share.y >= 0.0 && share.x < 1.0 && share.y < 1.0;
}
void main() {
  vec2 at = vec2(gl_FragCoord.x, canvas.y - gl_FragCoord.y);
  float left = 0.0;
  float width = canvas.x;
  int side = mode == 4 ? 1 : 0;
  if (mode == 0) {
    width = floor(canvas.x / 2.0);
    if (at.x >= width) { side = 1; left = width; }
    if (abs(at.x - width) < 1.0) { colour = vec4(surround, 1.0); return; }
  } else if (mode == 1) {
    if (abs(at.x - wipe * canvas.x) < 1.0) { colour = vec4(vec3(0.85), 1.0); return; }
    if (at.x >= wipe * canvas.x) side = 1;
  }
  vec2 place = centre + (at - vec2(left + width / 2.0, canvas.y / 2.0)) / scale;
  vec2 share;
  vec2 other;
  if (mode == 2) {
    if (!inside(0, place, share) || !inside(1, place, other)) { colour = vec4(surround, 1.0); return; }
    colour = vec4(clamp(abs(sideAt(0, share) - sideAt(1, other)) * gain, 0.0, 1.0), 1.0);
    return;
  }
  if (!inside(side, place, share)) { colour = vec4(surround, 1.0); return; }
  colour = vec4(sideAt(side, share), 1.0);
}`;
