import { GLYPH_PATHS } from '@sobrin/core/drawing';
import { DEVICE_KINDS } from '@sobrin/core/topology';
import { renderToStaticMarkup } from 'react-dom/server';
import { GLYPHS } from './glyphs';

test.each(DEVICE_KINDS)('the glyph of a %s is the same on pictures as on the bench', (kind) => {
  const Glyph = GLYPHS[kind];
  const paths = [...renderToStaticMarkup(<Glyph />).matchAll(/ d="([^"]+)"/g)].map(([, d]) => d);
  expect(paths).toEqual(GLYPH_PATHS[kind]);
});
