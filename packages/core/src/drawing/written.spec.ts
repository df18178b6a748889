import { plainLine, writtenLines } from './written';

test('marks say how something is written, and are not seen', () => {
  expect(writtenLines('the **root** of *the tree*, at `g0/1`', 99)).toEqual([
    [
      { text: 'the' },
      { text: ' root', bold: true },
      { text: ' of' },
      { text: ' the tree', italic: true },
      { text: ', at' },
      { text: ' g0/1', mono: true },
    ],
  ]);
});
test('a heading is bold, and items of a list stand under their first letter', () => {
  expect(writtenLines('# Winch control', 99)).toEqual([[{ text: 'Winch control', bold: true }]]);
  const lines = writtenLines('- kept apart from everything else', 16).map(plainLine);
  expect(lines[0]).toBe('• kept apart');
  expect(lines.slice(1).every((line) => line.startsWith('\u00a0\u00a0\u00a0'))).toBe(true);
});
test.each(['3 * 4 is 12', '3 * 4 * 5 is 60', 'a ** b ** c', '`open', '**half', 'under_scores_stay', 'PC-* and SW-*'])(
  '%s is read word for word: its marks close nothing',
  (text) => {
    expect(writtenLines(text, 99)).toEqual([[{ text }]]);
  },
);
test('within text of one width marks are letters', () => {
  expect(writtenLines('`permit ** any`', 99)).toEqual([[{ text: 'permit ** any', mono: true }]]);
});
test('lines are as long as they may be, a word of several ways is never torn, and empty lines stay', () => {
  expect(writtenLines('one two\n\nthree', 5).map(plainLine)).toEqual(['one', 'two', '', 'three']);
  expect(writtenLines('aaaa **bb**cc dd', 6).map(plainLine)).toEqual(['aaaa', 'bbcc', 'dd']);
  for (const line of writtenLines('The **winch controllers** must be kept apart from `everything`.', 20).map(plainLine))
    expect(line.length).toBeLessThanOrEqual(20);
});

test('lines end as any system ends them', () => {
  for (const end of ['\n', '\r\n', '\r', '\u2028', '\u2029'])
    expect(writtenLines(`# one${end}two`, 99).map(plainLine)).toEqual(['one', 'two']);
});
