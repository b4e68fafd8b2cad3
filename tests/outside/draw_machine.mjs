// Draws boxes and wheels (cylinders across the vehicle, of so many corners) as an OBJ file in millimetres, X ahead, Z up; a
// bolt is a box with a step, turned about its own middle, so that copies of it are equal up to a motion.
// usage: node draw_machine.mjs OUT.obj box:NAME:X0:X1:Y0:Y1:Z0:Z1 wheel:NAME:X:Y:Z:RADIUS:WIDTH:CORNERS
//                                      bolt:NAME:X:Y:Z:ROLL_DEG:YAW_DEG:HAND coil:NAME:X:Y:Z:RADIUS:WIRE:LENGTH:TURNS ...
import { writeFileSync } from 'node:fs';

const [out, ...things] = process.argv.slice(2);
const lines = [];
let vertices = 0;
const put = (places, faces) => {
  for (const p of places) lines.push(`v ${p.join(' ')}`);
  for (const f of faces) lines.push(`f ${f.map((i) => vertices + 1 + i).join(' ')}`);
  vertices += places.length;
};
// Corner i of a box: bit 0 ahead, bit 1 left, bit 2 up.
const box = ([x0, x1, y0, y1, z0, z1]) => [
  [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [i & 1 ? x1 : x0, i & 2 ? y1 : y0, i & 4 ? z1 : z0]),
  [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]],
];
const draw = {
  box: (numbers) => put(...box(numbers)),
  wheel: ([x, y, z, radius, width, corners]) => {
    const places = [];
    for (const side of [-width / 2, width / 2])
      for (let i = 0; i < corners; ++i) {
        const a = (2 * Math.PI * i) / corners;
        places.push([x + radius * Math.cos(a), y + side, z + radius * Math.sin(a)]);
      }
    const ends = [...Array(corners).keys()], faces = [ends, ends.map((i) => 2 * corners - 1 - i)];
    for (const i of ends) faces.push([i, corners + i, corners + ((i + 1) % corners), (i + 1) % corners]);
    put(places, faces);
  },
  bolt: ([x, y, z, roll, yaw, hand]) => {
    const [a, b] = [roll, yaw].map((degrees) => (degrees * Math.PI) / 180);
    const turned = ([px, py, pz]) => {
      const [qy, qz] = [py * Math.cos(a) - pz * Math.sin(a), py * Math.sin(a) + pz * Math.cos(a)];
      return [x + px * Math.cos(b) - qy * Math.sin(b), y + px * Math.sin(b) + qy * Math.cos(b), z + qz];
    };
    // Two boxes that share a face: none of its planes is one of symmetry.
    for (const half of [[-20, 20, -9, 9, -7, 7], [20, 31, -4, 9, -7, 2]]) {
      const [places, faces] = box(half);
      const seen = places.map(([px, py, pz]) => turned([px, hand * py, pz]));
      put(seen, hand > 0 ? faces : faces.map((f) => [...f].reverse()));
    }
  },
  // Of round wire, winding up from its place; rings of corners stand across the wire.
  coil: ([x, y, z, radius, wire, length, turns]) => {
    const places = [], faces = [], sides = 12, rings = Math.round(turns * 32) + 1;
    const slope = Math.atan2(length / turns, 2 * Math.PI * radius);
    for (let i = 0; i < rings; ++i) {
      const a = (2 * Math.PI * turns * i) / (rings - 1), rise = (length * i) / (rings - 1);
      for (let k = 0; k < sides; ++k) {
        const b = (2 * Math.PI * k) / sides, out = radius + (wire / 2) * Math.cos(b), up = (wire / 2) * Math.sin(b);
        const along = -up * Math.sin(slope);
        places.push([x + out * Math.cos(a) - along * Math.sin(a), y + out * Math.sin(a) + along * Math.cos(a), z + rise + up * Math.cos(slope)]);
      }
    }
    for (let i = 0; i + 1 < rings; ++i)
      for (let k = 0; k < sides; ++k) {
        const [p, q] = [i * sides + k, i * sides + ((k + 1) % sides)];
        faces.push([p, p + sides, q + sides, q]);
      }
    const ring = [...Array(sides).keys()];
    faces.push(ring, ring.map((k) => rings * sides - 1 - k));
    put(places, faces);
  },
};
for (const thing of things) {
  const [kind, name, ...numbers] = thing.split(':');
  lines.push(`o ${name}`);
  draw[kind](numbers.map(Number));
}
writeFileSync(out, lines.join('\n') + '\n');
