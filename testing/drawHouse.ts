import { roomGraph, roomOf } from './imports.ts';

/** The house as a picture: a band a floor, with its rooms by what they stand on. */

interface FloorText {
  name: string;
  says: string;
}

/** From the top. */
const bands: readonly FloorText[] = [
  { name: 'cli', says: 'the command relay, and the processes that it keeps' },
  { name: 'server', says: 'Express and PostgreSQL: whose, and when' },
  { name: 'web', says: 'React, a folder a station' },
  { name: 'demo', says: 'the painted scenario' },
  { name: 'work', says: "what is done to users' files" },
  { name: 'media', says: 'the only floor that knows FFmpeg' },
  { name: 'contract', says: 'what they say to each other, in Zod' },
  { name: 'core', says: 'computation only' },
];

const width = 980;
const left = 150;
const roomsRight = 960;
const boxHeight = 24;
const gap = 6;

/** How far above the lowest each room stands: one above the highest that it imports. Rooms in a circle stand together. */
function heights(rooms: readonly string[], graph: ReadonlyMap<string, readonly string[]>): Map<string, number> {
  const height = new Map(rooms.map((room) => [room, 0]));
  // As many rounds as there are rooms settle every chain; a circle stops there too.
  let moved = true;
  for (let rounds = rooms.length; moved && rounds > 0; rounds -= 1) {
    moved = false;
    for (const room of rooms) {
      const below = (graph.get(room) ?? []).filter((other) => height.has(other) && !leadsBack(other, room, graph));
      const wanted = Math.max(0, ...below.map((other) => (height.get(other) ?? 0) + 1));
      if (wanted !== height.get(room)) {
        height.set(room, wanted);
        moved = true;
      }
    }
  }
  return height;
}

function leadsBack(from: string, to: string, graph: ReadonlyMap<string, readonly string[]>): boolean {
  const seen = new Set<string>();
  const waiting = [from];
  for (let node = waiting.pop(); node !== undefined; node = waiting.pop()) {
    if (node === to) return true;
    if (seen.has(node)) continue;
    seen.add(node);
    waiting.push(...(graph.get(node) ?? []));
  }
  return false;
}

const escape = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
const text = (x: number, y: number, words: string, style = ''): string =>
  `  <text x="${x}" y="${y}"${style}>${escape(words)}</text>`;

interface Drawn {
  lines: string[];
  height: number;
}

/** The rooms of a floor in rows, the ones that stand on others above them. */
function drawRooms(floor: string, top: number, graph: ReadonlyMap<string, readonly string[]>): Drawn {
  const rooms = [...graph.keys()].filter((room) => room.startsWith(`${floor}/`));
  const height = heights(rooms, graph);
  const highest = Math.max(...height.values());
  const lines: string[] = [];
  let y = top;
  for (let level = highest; level >= 0; level -= 1) {
    let x = left;
    for (const room of rooms.filter((one) => height.get(one) === level).sort()) {
      const name = room.slice(floor.length + 1).replace(/\.tsx?$/, '');
      const wide = 16 + name.length * 7.2;
      if (x + wide > roomsRight) {
        x = left;
        y += boxHeight + gap;
      }
      lines.push(`  <rect x="${x}" y="${y}" width="${wide}" height="${boxHeight}" rx="3" class="room"/>`);
      lines.push(text(x + 8, y + 16, name));
      x += wide + gap;
    }
    y += boxHeight + gap;
  }
  return { lines, height: y - top };
}

/** The picture as SVG; it changes where a room comes or goes, or one stands on another that it did not stand on. */
export function drawHouse(graph: ReadonlyMap<string, readonly string[]>): string {
  const rooms = roomGraph(graph);
  const between = new Map(
    bands.map(({ name }) => {
      const others = new Set<string>();
      for (const [path, imported] of graph)
        if (path.startsWith(`${name}/`)) for (const other of imported) others.add(floorOf(other));
      return [name, others];
    }),
  );
  const lines: string[] = [];
  let y = 16;
  for (const { name, says } of bands) {
    const drawn = drawRooms(name, y + 30, rooms);
    const tall = drawn.height + 38;
    lines.push(`  <rect x="8" y="${y}" width="${roomsRight}" height="${tall}" class="floor"/>`);
    const on = bands.map((band) => band.name).filter((other) => other !== name && between.get(name)?.has(other));
    const stands = on.length > 0 ? `${says}; stands on ${on.join(', ')}` : says;
    lines.push(text(20, y + 22, name, ' class="name"'), text(left, y + 22, stands, ' class="says"'), ...drawn.lines);
    y += tall + 10;
  }
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${y}" font-family="sans-serif" font-size="12">`,
    '  <style>',
    '    svg { background: #fff } .floor { fill: #f4f4f1; stroke: #c9c9c2 } .room { fill: #fff; stroke: #8a8a82 }',
    '    .name { font-weight: bold; font-size: 14px } .says { fill: #55554f }',
    '  </style>',
    ...lines,
    '</svg>',
    '',
  ].join('\n');
}

function floorOf(path: string): string {
  return roomOf(path).split('/')[0] as string;
}
