// Writes the outlines of countries that the small map draws: each fitted into a square of 88 by 88 and simplified to what
// such a square can show. Run by hand, from a folder with the npm packages `world-atlas` (Natural Earth, public domain)
// and `topojson-client` installed: node make-country-outlines.mjs > country-outlines.json
import { createRequire } from 'node:module';

const require = createRequire(`${process.cwd()}/`);
const { feature } = require('topojson-client');
const world = require('world-atlas/countries-50m.json');

const SIZE = 88;
const MARGIN = 9;
/** What is smaller than this on the square is not seen. */
const TOLERANCE = 0.7;
/** Islands with less than this share of the largest part's area are left out, as are parts far overseas. */
const LEAST_SHARE = 0.015;

const area = (ring) => Math.abs(ring.reduce((sum, [x, y], i) => sum + x * (ring[(i + 1) % ring.length][1] - ring[(i + ring.length - 1) % ring.length][1]), 0)) / 2;
const middle = (ring) => ring.reduce(([x, y], p) => [x + p[0] / ring.length, y + p[1] / ring.length], [0, 0]);

// Ramer (1972), Douglas and Peucker (1973): keeps the point that lies farthest off, as long as it lies off far enough.
function simplify(points) {
  if (points.length < 3) return points;
  const [a, b] = [points[0], points.at(-1)];
  let [farthest, most] = [0, 0];
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
  points.forEach(([x, y], i) => {
    const off = length === 0 ? Math.hypot(x - a[0], y - a[1]) : Math.abs((b[0] - a[0]) * (a[1] - y) - (a[0] - x) * (b[1] - a[1])) / length;
    if (off > most) [farthest, most] = [i, off];
  });
  if (most <= TOLERANCE) return [a, b];
  return [...simplify(points.slice(0, farthest + 1)).slice(0, -1), ...simplify(points.slice(farthest))];
}

const outlines = {};
for (const country of feature(world, world.objects.countries).features) {
  const name = country.properties.name;
  const parts = (country.geometry.type === 'Polygon' ? [country.geometry.coordinates] : country.geometry.coordinates).map(([outer]) => outer);
  const largest = parts.reduce((a, b) => (area(b) > area(a) ? b : a));
  const [lon, lat] = middle(largest);
  const near = parts.filter((ring) => area(ring) >= LEAST_SHARE * area(largest) && Math.hypot(middle(ring)[0] - lon, middle(ring)[1] - lat) < 35);
  // Degrees of longitude are narrower away from the equator; over one country one factor is true enough.
  const narrow = Math.max(0.15, Math.cos((lat * Math.PI) / 180));
  const flat = near.map((ring) => ring.map(([x, y]) => [x * narrow, -y]));
  const all = flat.flat();
  const [left, right] = [Math.min(...all.map((p) => p[0])), Math.max(...all.map((p) => p[0]))];
  const [top, bottom] = [Math.min(...all.map((p) => p[1])), Math.max(...all.map((p) => p[1]))];
  const scale = (SIZE - 2 * MARGIN) / Math.max(right - left, bottom - top);
  const [dx, dy] = [(SIZE - (right - left) * scale) / 2, (SIZE - (bottom - top) * scale) / 2];
  const path = flat
    .map((ring) => {
      const scaled = ring.map(([x, y]) => [dx + (x - left) * scale, dy + (y - top) * scale]);
      // A ring is cut in two, since its ends are one and the same point.
      const half = Math.floor(scaled.length / 2);
      return [...simplify(scaled.slice(0, half + 1)).slice(0, -1), ...simplify(scaled.slice(half))].slice(0, -1);
    })
    .filter((ring) => ring.length >= 3)
    .map((ring) => `M${ring.map(([x, y]) => `${+x.toFixed(1)} ${+y.toFixed(1)}`).join('L')}Z`)
    .join('');
  if (path) outlines[name] = path;
}
process.stdout.write(`${JSON.stringify({ source: 'Natural Earth 1:50m, public domain', outlines }, null, 0).replaceAll('","', '",\n"')}\n`);
