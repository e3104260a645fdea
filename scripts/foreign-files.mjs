// Makes the workbook and the Parquet file of the demo, and files for the tests of the formats
// module, with implementations other than those that read them.
// Run in a folder with the npm packages exceljs, hyparquet-writer and avsc: node foreign-files.mjs REPOSITORY
import { createRequire } from 'module';
import fs from 'fs';
import path from 'path';
const require = createRequire(path.join(process.cwd(), 'x.js'));
const ExcelJS = require('exceljs');
const avro = require('avsc');
const { parquetWriteBuffer } = await import(
  path.join(process.cwd(), 'node_modules/hyparquet-writer/src/index.js'));

const root = process.argv[2];
const demo = path.join(root, 'cli/src/main/resources/dev/dusky/cli/demo');
const tests = path.join(root, 'formats/src/test/resources/dev/dusky/formats');

const grades = ['A', 'B', 'C', 'organic A', 'organic B'];
const day = (y, m, d) => new Date(Date.UTC(y, m - 1, d));

// The price list of a month, as its author likes it: a title above, a remark below.
const prices = new ExcelJS.Workbook();
prices.creator = 'Wrenfold';
prices.created = prices.modified = day(2026, 2, 26);
const sheet = prices.addWorksheet('Prices');
sheet.getCell('A1').value = 'Milk prices from March 2026';
sheet.getRow(3).values = ['Grade', 'Base price', 'Organic premium', 'Valid from', 'Agreed', 'Total'];
grades.forEach((grade, i) => {
  const row = sheet.getRow(4 + i);
  const base = 0.412 - i * 0.013;
  const premium = i > 2 ? 0.095 : 0;
  row.values = [grade, Number(base.toFixed(4)), premium, day(2026, 3, 1), i !== 2,
    { formula: `B${4 + i}+C${4 + i}`, result: Number((base + premium).toFixed(4)) }];
  row.getCell(4).numFmt = 'dd/mm/yyyy';
});
prices.addWorksheet('Notes').getCell('A1').value = 'Agreed by the members on 26 February.';
fs.writeFileSync(path.join(demo, 'prices-2026-03.xlsx'), Buffer.from(await prices.xlsx.writeBuffer()));

// The history of prices.
const months = [];
for (let y = 2024; y <= 2026; y++) for (let m = 1; m <= 12 && (y < 2026 || m < 3); m++) months.push([y, m]);
const rows = months.flatMap(([y, m], n) => grades.map((grade, g) => ({ grade, y, m, n, g })));
fs.writeFileSync(path.join(demo, 'prices-history.parquet'), Buffer.from(parquetWriteBuffer({
  columnData: [
    { name: 'grade', data: rows.map(r => r.grade), type: 'STRING' },
    { name: 'valid_from', data: rows.map(r => Math.round(day(r.y, r.m, 1) / 86400000)), type: 'INT32' },
    { name: 'base_price', data: rows.map(r => Number((0.38 + r.n * 0.0012 - r.g * 0.013).toFixed(4))), type: 'DOUBLE' },
    { name: 'litres', data: rows.map(r => BigInt(100000 + r.n * 1371 + r.g * 211)), type: 'INT64' },
    { name: 'agreed', data: rows.map(r => (r.n + r.g) % 7 !== 0), type: 'BOOLEAN' },
  ].map(({ name, data }) => ({ name, data })),
  schema: [
    { name: 'root', num_children: 5 },
    { name: 'grade', type: 'BYTE_ARRAY', converted_type: 'UTF8', logical_type: { type: 'STRING' }, repetition_type: 'REQUIRED' },
    { name: 'valid_from', type: 'INT32', converted_type: 'DATE', logical_type: { type: 'DATE' }, repetition_type: 'REQUIRED' },
    { name: 'base_price', type: 'DOUBLE', repetition_type: 'REQUIRED' },
    { name: 'litres', type: 'INT64', repetition_type: 'REQUIRED' },
    { name: 'agreed', type: 'BOOLEAN', repetition_type: 'REQUIRED' },
  ],
})));

// For the tests: nulls, all plain types, dictionary pages, both date systems, formulas, unions.
fs.writeFileSync(path.join(tests, 'foreign.parquet'), Buffer.from(parquetWriteBuffer({
  columnData: [
    { name: 'id', data: Array.from({ length: 1000 }, (_, i) => BigInt(i + 1)), type: 'INT64' },
    { name: 'name', data: Array.from({ length: 1000 }, (_, i) => i % 10 ? 'farm ' + i % 7 : null), type: 'STRING' },
    { name: 'litres', data: Array.from({ length: 1000 }, (_, i) => i % 3 ? i / 4 : null), type: 'DOUBLE' },
    { name: 'ok', data: Array.from({ length: 1000 }, (_, i) => i % 2 === 0), type: 'BOOLEAN' },
    { name: 'at', data: Array.from({ length: 1000 }, (_, i) => new Date(1772431200000 + i * 60000)), type: 'TIMESTAMP' },
    { name: 'doc', data: Array.from({ length: 1000 }, (_, i) => ({ n: i, tags: ['a', 'b'] })), type: 'JSON' },
  ],
  rowGroupSize: 300,
})));

const type = avro.Type.forSchema({
  type: 'record', name: 'Assay', fields: [
    { name: 'id', type: 'long' },
    { name: 'farm', type: ['null', 'string'] },
    { name: 'fat', type: ['null', 'double'] },
    { name: 'taken', type: { type: 'int', logicalType: 'date' } },
    { name: 'grade', type: { type: 'enum', name: 'Grade', symbols: ['A', 'B'] } },
    { name: 'results', type: { type: 'array', items: { type: 'record', name: 'Result', fields: [
      { name: 'name', type: 'string' }, { name: 'value', type: 'double' }] } } },
    { name: 'marks', type: { type: 'map', values: 'int' } },
    { name: 'lab', type: { type: 'record', name: 'Lab', fields: [{ name: 'city', type: 'string' }] } },
  ] });
for (const codec of ['null', 'deflate']) {
  const encoder = avro.createFileEncoder(path.join(tests, `foreign-${codec}.avro`), type, { codec });
  for (let i = 1; i <= 500; i++) {
    encoder.write({ id: i, farm: i % 5 ? 'F' + i : null, fat: i % 4 ? 3.5 + i / 1000 : null, taken: 20000 + i,
      grade: i % 2 ? 'A' : 'B', results: [{ name: 'fat', value: i / 10 }, { name: 'protein', value: 3.25 }],
      marks: { x: i }, lab: { city: 'North' } });
  }
  await new Promise(done => { encoder.on('end', done); encoder.end(); encoder.on('finish', done); });
}

for (const date1904 of [false, true]) {
  const book = new ExcelJS.Workbook();
  book.properties.date1904 = date1904;
  const s = book.addWorksheet('Data');
  s.addRow(['id', 'text', 'amount', 'day', 'moment', 'ok', 'sum', 'label']);
  for (let i = 1; i <= 20; i++) {
    const row = s.addRow([i, i === 3 ? null : 'täxt ' + i, i === 4 ? null : i * 1.1, day(2026, 3, i),
      new Date(Date.UTC(2026, 2, i, 13, 30, 15)), i % 2 === 0, { formula: `A${i + 1}*2`, result: i * 2 },
      { formula: `"n"&A${i + 1}`, result: 'n' + i }]);
    row.getCell(4).numFmt = 'yyyy-mm-dd';
    row.getCell(5).numFmt = 'dd/mm/yyyy hh:mm:ss';
  }
  book.addWorksheet('Empty');
  fs.writeFileSync(path.join(tests, date1904 ? 'foreign-1904.xlsx' : 'foreign.xlsx'), Buffer.from(await book.xlsx.writeBuffer()));
}
