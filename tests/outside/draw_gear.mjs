// Draws spur gears from the involute's definition: a string unwound from the base circle. Nothing of the application is used.
// usage: node draw_gear.mjs OUT.obj MODULE_MM WIDTH_MM NAME:TEETH:X_MM:TURN_DEG...
import { writeFileSync } from 'node:fs';

const [out, moduleText, widthText, ...gears] = process.argv.slice(2);
const module = Number(moduleText), width = Number(widthText), pressure = (20 * Math.PI) / 180;
const inv = (a) => Math.tan(a) - a;
let lines = [], vertices = 0;

for (const gear of gears) {
  const [name, teethText, xText, turnText] = gear.split(':');
  const z = Number(teethText), x = Number(xText), turn = (Number(turnText) * Math.PI) / 180;
  const pitch = (module * z) / 2, base = pitch * Math.cos(pressure), tip = pitch + module, root = pitch - 1.25 * module;
  // Half the angle of a tooth at radius r; 0.5 % thinner than half a pitch, so that flanks have play.
  const half = (r) => (0.995 * Math.PI) / (2 * z) + inv(pressure) - inv(Math.acos(Math.min(1, base / r)));
  const profile = [];
  const put = (r, a) => profile.push([x + r * Math.cos(a), r * Math.sin(a)]);
  const start = Math.max(base, root), steps = 14;
  for (let k = 0; k < z; ++k) {
    const middle = turn + (2 * Math.PI * k) / z;
    if (root < base) put(root, middle - half(base));
    for (let i = 0; i <= steps; ++i) put(start + ((tip - start) * i) / steps, middle - half(start + ((tip - start) * i) / steps));
    for (let i = steps; i >= 0; --i) put(start + ((tip - start) * i) / steps, middle + half(start + ((tip - start) * i) / steps));
    if (root < base) put(root, middle + half(base));
    // The floor of the gap as an arc.
    const from = middle + half(start), to = middle + (2 * Math.PI) / z - half(start);
    for (let i = 1; i < 4; ++i) put(root, from + ((to - from) * i) / 4);
  }
  const n = profile.length;
  lines.push(`o ${name}`);
  for (const h of [-width / 2, width / 2]) for (const [px, py] of profile) lines.push(`v ${px} ${py} ${h}`);
  // Ends as quads between two teeth and the middle: fans from the axis.
  for (const h of [-width / 2, width / 2]) lines.push(`v ${x} 0 ${h}`);
  const at = (side, i) => vertices + 1 + side * n + (i % n);
  for (let i = 0; i < n; ++i) {
    lines.push(`f ${at(0, i)} ${at(0, i + 1)} ${at(1, i + 1)} ${at(1, i)}`);
    lines.push(`f ${vertices + 1 + 2 * n} ${at(0, i + 1)} ${at(0, i)}`);
    lines.push(`f ${vertices + 2 + 2 * n} ${at(1, i)} ${at(1, i + 1)}`);
  }
  vertices += 2 * n + 2;
}
writeFileSync(out, lines.join('\n') + '\n');
