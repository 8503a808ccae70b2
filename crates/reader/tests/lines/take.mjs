// Takes the quantities and units that parse-ingredient 3.0.0 reads from lines.txt.
// Run here: npm i --no-save parse-ingredient@3.0.0 && node take.mjs > parsed.json
import { readFileSync } from 'node:fs';
import { parseIngredient } from 'parse-ingredient';

const lines = readFileSync(new URL('lines.txt', import.meta.url), 'utf8').split('\n').filter(Boolean);
const read = lines.map((text) => {
  const [one] = parseIngredient(text);
  return { text, low: one.quantity, high: one.quantity2, unit: one.unitOfMeasureID, heading: one.isGroupHeader };
});
process.stdout.write(`[\n${read.map((r) => JSON.stringify(r)).join(',\n')}\n]\n`);
