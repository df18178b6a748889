import { PANEL_WIDTHS, usePreferences } from './preferences';

/** As another tab, or somebody by hand, leaves it. */
function keep(state: string): void {
  localStorage.setItem('sobrin-preferences', state);
  window.dispatchEvent(new StorageEvent('storage', { key: 'sobrin-preferences' }));
}
beforeEach(() =>
  usePreferences.setState({
    scheme: 'light',
    ownScheme: null,
    panelWidth: PANEL_WIDTHS.start,
    singleKeys: true,
    ownKeys: {},
  }),
);

test('what is chosen in one tab holds in the others, and is not written over by them', () => {
  keep(JSON.stringify({ state: { ownScheme: 'dark', ownKeys: { kit: 'K' }, singleKeys: false }, version: 0 }));
  expect(usePreferences.getState()).toMatchObject({ scheme: 'dark', singleKeys: false, ownKeys: { kit: 'K' } });
  usePreferences.getState().setPanelWidth(400);
  expect(JSON.parse(localStorage.getItem('sobrin-preferences')!)).toMatchObject({
    state: { ownScheme: 'dark', ownKeys: { kit: 'K' }, panelWidth: 400 },
  });
});

test.each([
  ['no JSON', '{"state":'],
  ['nothing', '{"state":null,"version":0}'],
  [
    'other types',
    '{"state":{"ownScheme":"plum","panelWidth":"wide","singleKeys":1,"ownKeys":{"kit":7},"toggleScheme":1}}',
  ],
  ['other types still', '{"state":{"ownScheme":7,"panelWidth":1e9,"singleKeys":null,"ownKeys":null},"version":0}'],
  ['names that harm', '{"state":{"ownKeys":{"__proto__":{"a":1},"constructor":2}},"version":0}'],
])('a store that holds %s changes nothing', (_what, text) => {
  keep(text);
  const { scheme, panelWidth, singleKeys, ownKeys, toggleScheme } = usePreferences.getState();
  expect({ scheme, panelWidth, singleKeys, ownKeys }).toEqual({
    scheme: 'light',
    panelWidth: PANEL_WIDTHS.start,
    singleKeys: true,
    ownKeys: {},
  });
  expect(toggleScheme).toBeInstanceOf(Function);
});
