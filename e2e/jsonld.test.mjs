// The exported JSON-LD against the schema.org vocabulary as the npm package schema-dts types it:
// every property, type and value of every demo formula must be one that a Recipe may have.

import assert from 'node:assert/strict';
import { after, before, it } from 'node:test';
import ts from 'typescript';
import { WIDE, open, visit } from './house.mjs';

let house;
before(async () => { house = await open(); });
after(async () => { await house.close(); });

/** What the type checker says of a document taken as a Recipe. */
function complaints(name, json) {
  const file = new URL(`${name}.check.mts`, import.meta.url).pathname;
  const source = `import type { Recipe, WithContext } from 'schema-dts';\nexport const it: WithContext<Recipe> = ${json};\n`;
  const options = { noEmit: true, strict: true, skipLibCheck: true, module: ts.ModuleKind.NodeNext, moduleResolution: ts.ModuleResolutionKind.NodeNext, types: [] };
  const host = ts.createCompilerHost(options);
  const { getSourceFile, fileExists, readFile } = host;
  host.getSourceFile = (path, ...rest) => (path === file ? ts.createSourceFile(path, source, options.target ?? ts.ScriptTarget.ES2022) : getSourceFile.call(host, path, ...rest));
  host.fileExists = (path) => path === file || fileExists.call(host, path);
  host.readFile = (path) => (path === file ? source : readFile.call(host, path));
  const program = ts.createProgram([file], options, host);
  return ts.getPreEmitDiagnostics(program).map((d) => ts.flattenDiagnosticMessageText(d.messageText, '\n'));
}

it('every demo formula goes out as a Recipe of schema.org', async () => {
  await visit(house, '/formulas', WIDE, async (page) => {
    for (let id = 1; id <= 7; id += 1) {
      const json = await (await page.request.get(`${house.address}/formulas/${id}/export/jsonld`)).text();
      assert.deepEqual(complaints(`recipe-${id}`, json), []);
    }
  });
});

it('the check finds what is wrong', () => {
  const wrong = '{"@context": "https://schema.org", "@type": "Recipe", "name": "x", "crust": "thick", "cookTime": 5}';
  assert.notDeepEqual(complaints('wrong', wrong), []);
});
