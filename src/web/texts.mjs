// Lists every text that the web app shows, with where it stands: to be read through by somebody who sells things. `make texts`.
import { readdirSync, readFileSync } from 'node:fs';
import ts from 'typescript';

const SAID = new Set(['label', 'placeholder', 'title', 'aria-label', 'words', 'beware', 'note', 'name', 'detail', 'empty', 'head']);

const isSaid = (node) =>
  (ts.isJsxAttribute(node.parent) || ts.isPropertyAssignment(node.parent)) && SAID.has(node.parent.name.getText().replaceAll("'", ''));

for (const file of readdirSync('src', { recursive: true })
  .filter((name) => /\.tsx?$/.test(name) && !name.startsWith('api/'))
  .sort()) {
  const source = ts.createSourceFile(file, readFileSync(`src/${file}`, 'utf8'), ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
  const tell = (node, text) => {
    const words = text.replace(/\s+/g, ' ').trim();
    if (/\p{L}{2}/u.test(words)) console.log(`${file}:${source.getLineAndCharacterOfPosition(node.getStart()).line + 1}\t${words}`);
  };
  const walk = (node) => {
    if (ts.isJsxText(node)) tell(node, node.text);
    else if (ts.isStringLiteralLike(node) && (isSaid(node) || ts.isConditionalExpression(node.parent) || ts.isJsxExpression(node.parent))) {
      // Classes of styles are no words.
      let above = node.parent;
      while (above && !ts.isJsxAttribute(above) && !ts.isStatement(above)) above = above.parent;
      if (!(above && ts.isJsxAttribute(above) && /className|data-|testid/.test(above.name.getText()))) tell(node, node.text);
    } else if (ts.isTemplateExpression(node)) tell(node, node.getText());
    ts.forEachChild(node, walk);
  };
  walk(source);
}
