import { type TDocumentDefinitions } from 'pdfmake/interfaces';
import { inFonts } from '.';

const paper = (content: TDocumentDefinitions['content']): TDocumentDefinitions => ({ content });

test('what the font of papers has stays as it is', () => {
  const plain = paper([{ text: 'Valley – Größe, Станция, ™ ©' }, { table: { body: [['a', { text: 'b' }]] } }]);
  expect(inFonts(plain)).toEqual({ definition: plain, needs: [] });
});
test('Arabic and emoji get fonts that have them, wherever they stand', () => {
  const { definition, needs } = inFonts(
    paper([
      { text: 'Port محطة 1' },
      { stack: [{ ol: ['🚠 cable car'] }] },
      { table: { widths: ['*'], body: [['موقع', { text: 'x', fillColor: '#fff' }]] } },
    ]),
  );
  expect(needs.sort()).toEqual(['Arabic', 'Emoji']);
  expect(definition.content).toEqual([
    { text: [{ text: 'Port ' }, { text: 'محطة', font: 'Arabic' }, { text: ' 1' }] },
    { stack: [{ ol: [{ text: [{ text: '🚠', font: 'Emoji' }, { text: ' cable car' }] }] }] },
    {
      table: {
        widths: ['*'],
        body: [[{ text: [{ text: 'موقع', font: 'Arabic' }] }, { text: 'x', fillColor: '#fff' }]],
      },
    },
  ]);
});
test('words of Arabic stand from right to left', () => {
  expect(inFonts(paper('محطة الوادي')).definition.content).toEqual({ text: [{ text: 'الوادي محطة', font: 'Arabic' }] });
});
test('so do the words of a picture, and its attributes stay', () => {
  const { definition } = inFonts(paper([{ svg: '<svg><text class="محطة">A محطة</text></svg>' }]));
  expect(definition.content).toEqual([
    { svg: '<svg><text class="محطة">A <tspan font-family="Arabic" font-weight="400">محطة</tspan></text></svg>' },
  ]);
});
