import { demoLab } from '../tests/topologies';
import { type Topology, emptyTopology } from '../topology';
import { writeHtml } from '.';

const drawing = demoLab('three-stations').reference;

test('one page holds the picture, the legend and the tables of devices, addresses and links', () => {
  const page = writeHtml(drawing, { date: '2026-11-30' });
  expect(page).toMatch(/^<!doctype html>/);
  expect(page).toContain('<title>Three Stations</title>');
  expect(page).toContain('39 devices, 38 links · drawn by Maren Osterkamp · 2026-11-30');
  expect(page.match(/<h2>[^<]+/g)).toEqual(['<h2>Devices', '<h2>Links', '<h2>Addresses']);
  expect(page.match(/<tr>/g)).toHaveLength(3 + 39 + 40 + 38);
  expect(page).toContain('<td>10.84.4.1/28</td>');
  expect(page.match(/<svg/g)).toHaveLength(1);
  expect(page).not.toContain('<?xml');
});
test('nothing is fetched and no script runs, whatever somebody wrote', () => {
  const hostile = '</td></table><script>alert(1)</script><img src=x onerror=alert(1)>"\'&';
  const sheet: Topology = {
    ...emptyTopology(),
    title: hostile,
    author: hostile,
    legend: hostile,
    devices: { a: { name: hostile, model: 'hub', at: { x: 0, y: 0 }, settings: { hostname: hostile } } },
    notes: { n: { text: `**${hostile}**`, at: { x: 0, y: 200 } } },
  };
  const page = writeHtml(sheet);
  expect(page).not.toMatch(/<script|<img|<[^>]* on\w+=/i);
  expect(page).toContain("default-src 'none'");
  expect(page.match(/<table>/g)).toHaveLength(1);
  expect(page).not.toMatch(/(src|href)="https?:/);
});
test('an empty sheet is a page without tables', () => {
  expect(writeHtml(emptyTopology())).not.toContain('<table>');
});
