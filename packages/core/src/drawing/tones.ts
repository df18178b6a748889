/** Sobrin's colours by name, light and dark: drawings, pictures and panels use the same ones. */
export const TONES: Record<string, readonly [light: string, dark: string]> = {
  ground: ['#F6F3EC', '#151B1C'],
  canvas: ['#FBF9F4', '#182021'],
  surface: ['#FFFDF8', '#1E2627'],
  sunk: ['#EFEAE0', '#111718'],
  line: ['#DED7C9', '#334042'],
  line2: ['#8A8272', '#768488'],
  ink: ['#1D2730', '#ECE7DC'],
  ink2: ['#48535C', '#BDBCB2'],
  ink3: ['#5E6870', '#9DA098'],
  link: ['#36424B', '#C3C7C0'],
  spruce: ['#1F5F54', '#7CC4B2'],
  'spruce-tint': ['#DFEBE5', '#1F3B36'],
  'on-spruce': ['#FFFFFF', '#0F1B19'],
  ochre: ['#C47A1A', '#E5A84B'],
  'ochre-text': ['#8A5208', '#E9B465'],
  'ochre-tint': ['#F8EBD2', '#3D301A'],
  brick: ['#B0392B', '#F0897A'],
  'brick-tint': ['#F8E4DF', '#44251F'],
  plum: ['#6B4E71', '#CBAAD2'],
  'plum-tint': ['#EEE5F0', '#372B3B'],
  'site-a': ['#EDF2EC', '#1D2A27'],
  'site-b': ['#F3EEE2', '#29261D'],
  'site-c': ['#EAF0F3', '#1D282E'],
  'site-d': ['#F1EBF1', '#28222B'],
  'vlan-1': ['#0B6BA8', '#5AA9E0'],
  'on-vlan-1': ['#FFFFFF', '#0E1618'],
  'vlan-2': ['#B84E00', '#F08A45'],
  'on-vlan-2': ['#FFFFFF', '#0E1618'],
  'vlan-3': ['#00734F', '#3FBF92'],
  'on-vlan-3': ['#FFFFFF', '#0E1618'],
  'vlan-4': ['#A2487D', '#E08ABF'],
  'on-vlan-4': ['#FFFFFF', '#0E1618'],
  'vlan-5': ['#56B4E9', '#A5DBFA'],
  'on-vlan-5': ['#1D2730', '#0E1618'],
  'vlan-6': ['#E9A820', '#F2C84B'],
  'on-vlan-6': ['#1D2730', '#0E1618'],
  'vlan-7': ['#5A6570', '#AEB6BA'],
  'on-vlan-7': ['#FFFFFF', '#0E1618'],
  'vlan-8': ['#6A4FA3', '#B39CEB'],
  'on-vlan-8': ['#FFFFFF', '#0E1618'],
};

/** Whether the page around a drawing is light or dark. */
export type Scheme = 'light' | 'dark';

/** The value of a colour, for pictures and for libraries that must compute with it. */
export const colour = (scheme: Scheme, name: string): string => TONES[name]![scheme === 'light' ? 0 : 1];
