import { practiceSheet } from '@sobrin/core/address';
import { addressTable, planTree } from '@sobrin/core/plan';
import { brief, plan } from '../tests/plans';
import { addressPaper, practicePaper } from './papers';
import { documentOf } from './pdf';

const toneOf = (tone: number) => ({ fill: `#00000${tone}`, colour: '#ffffff' });
const lines = addressTable(planTree(plan()), brief);

test('the address table has a line a subnet, its VLAN on its tone', () => {
  const paper = addressPaper('Season Opening', lines, new Set(), toneOf);
  const [table] = paper.parts;
  expect(table).toMatchObject({
    kind: 'table',
    columns: ['Group', 'Site', 'VLAN', 'Subnet', 'Gateway', 'Pool'],
    rows: [
      ['Guests', 'Valley', { text: '90', fill: '#000002', colour: '#ffffff' }, '10.84.0.0/24', '10.84.0.1', ''],
      [
        'Tickets',
        'Valley',
        { text: '10', fill: '#000001', colour: '#ffffff' },
        '10.84.1.0/26\nfd5e:7a3c:90b1:1::/64',
        '10.84.1.1\nfd5e:7a3c:90b1:1::1',
        '10.84.1.50 - 10.84.1.62',
      ],
      ['Middle', 'Middle', '', '10.84.4.0/22', '10.84.4.1', ''],
    ],
  });
});
test('as a worksheet the chosen columns are empty, and nothing of them is in the file', () => {
  const paper = addressPaper('Season Opening', lines, new Set(['Subnet', 'Gateway']), toneOf);
  expect(paper.under).toMatch(/Worksheet/);
  const text = JSON.stringify(documentOf(paper));
  expect(text).not.toMatch(/10\.84\.1\.0|10\.84\.1\.1"|fd5e/);
  expect(text).toContain('Tickets');
});
test('a practice sheet has its answers on a page of their own', () => {
  const questions = practiceSheet(4, 5);
  const { content } = documentOf(practicePaper('Networks 1', 4, questions)) as { content: { pageBreak?: string }[] };
  expect(content.at(-1)!.pageBreak).toBe('before');
  const [before, answers] = [JSON.stringify(content.slice(0, -1)), JSON.stringify(content.at(-1))];
  for (const { question, answer } of questions) {
    expect(before).toContain(JSON.stringify(question));
    expect(answers).toContain(JSON.stringify(answer));
  }
});
