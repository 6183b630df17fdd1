// Writes rows (JSON on the input: [sheet name, [[cell]]][]) as a spreadsheet, by SheetJS, to the file that is named.
import { readFileSync } from 'node:fs';
import xlsx from 'xlsx';

const book = xlsx.utils.book_new();
for (const [name, rows] of JSON.parse(readFileSync(0, 'utf8'))) xlsx.utils.book_append_sheet(book, xlsx.utils.aoa_to_sheet(rows), name);
xlsx.writeFile(book, process.argv[2], { compression: true });
