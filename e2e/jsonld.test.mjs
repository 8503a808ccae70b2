// The exported JSON-LD against the schema.org vocabulary as the npm package schema-dts types it:
// every property, type and value of every demo formula must be one that a Recipe may have.

import assert from 'node:assert/strict';
import { after, before, it } from 'node:test';
import ts from 'typescript';
import { WIDE, open, visit } from './house.mjs';

let house;
before(async () => { house = await open(); });
after(async () => { await house.close(); });

/** What the type checker says of documents taken as Recipes, by their names. */
function complaints(documents) {
  const source = (json) => `import type { Recipe, WithContext } from 'schema-dts';\nexport const it: WithContext<Recipe> = ${json};\n`;
  const files = new Map(Object.entries(documents).map(([name, json]) => [new URL(`${name}.check.mts`, import.meta.url).pathname, source(json)]));
  const options = { noEmit: true, strict: true, skipLibCheck: true, module: ts.ModuleKind.NodeNext, moduleResolution: ts.ModuleResolutionKind.NodeNext, types: [] };
  const host = ts.createCompilerHost(options);
  const { getSourceFile, fileExists, readFile } = host;
  host.getSourceFile = (path, ...rest) =>
    files.has(path) ? ts.createSourceFile(path, files.get(path), options.target ?? ts.ScriptTarget.ES2022) : getSourceFile.call(host, path, ...rest);
  host.fileExists = (path) => files.has(path) || fileExists.call(host, path);
  host.readFile = (path) => files.get(path) ?? readFile.call(host, path);
  const program = ts.createProgram([...files.keys()], options, host);
  return ts.getPreEmitDiagnostics(program).map((d) => `${d.file?.fileName}: ${ts.flattenDiagnosticMessageText(d.messageText, '\n')}`);
}

// What is wrong is looked at in the same run: the check itself finds it, and in nothing else.
it('every demo formula goes out as a Recipe of schema.org, and the check finds what is wrong', async () => {
  const documents = { wrong: '{"@context": "https://schema.org", "@type": "Recipe", "name": "x", "crust": "thick", "cookTime": 5}' };
  await visit(house, '/formulas', WIDE, async (page) => {
    for (let id = 1; id <= 7; id += 1) {
      documents[`recipe-${id}`] = await (await page.request.get(`${house.address}/formulas/${id}/export/jsonld`)).text();
    }
  });
  const found = complaints(documents);
  assert.ok(found.length > 0 && found.every((text) => text.includes('wrong.check.mts')), found.join('\n'));
});
