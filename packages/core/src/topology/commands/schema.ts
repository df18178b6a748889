import { type Static, Type } from '@sinclair/typebox';
import { Changes, Closed, Id, Key, Line, ListOf, MapOf, Maybe, Name, OrNull, Paragraphs, Point } from '../schema-parts';
import { Comment, Device, EndTexts, Link, Model, Note, Picture, PortConfig, Site, Topology } from '../schema';
import { Interface, Settings } from '../schema-settings';

/** What may be changed of an interface that is there: where it sits stays. */
const { on: _on, ...InterfaceProperties } = Interface.properties;

const Simple = [
  Closed({ kind: Type.Literal('addDevice'), id: Id, device: Device }),
  Closed({ kind: Type.Literal('removeDevices'), ids: ListOf(Id, 5000) }),
  Closed({ kind: Type.Literal('setDevice'), id: Id, set: Changes(Device.properties) }),
  Closed({ kind: Type.Literal('move'), to: MapOf(Point) }),
  Closed({ kind: Type.Literal('connect'), id: Id, link: Link }),
  Closed({ kind: Type.Literal('disconnect'), ids: ListOf(Id, 20_000) }),
  Closed({ kind: Type.Literal('setLink'), id: Id, set: Changes(Link.properties) }),
  Closed({ kind: Type.Literal('setPort'), device: Id, port: Key, set: OrNull(PortConfig) }),
  Closed({ kind: Type.Literal('setInterface'), device: Id, key: Key, set: OrNull(Interface) }),
  Closed({ kind: Type.Literal('changePort'), device: Id, port: Key, set: Changes(PortConfig.properties) }),
  Closed({ kind: Type.Literal('changeInterface'), device: Id, key: Key, set: Changes(InterfaceProperties) }),
  Closed({ kind: Type.Literal('setSettings'), device: Id, set: Changes(Settings.properties) }),
  Closed({ kind: Type.Literal('setSite'), id: Id, set: OrNull(Site) }),
  Closed({ kind: Type.Literal('setNote'), id: Id, set: OrNull(Note) }),
  Closed({ kind: Type.Literal('setPicture'), id: Id, set: OrNull(Picture) }),
  Closed({ kind: Type.Literal('changeSite'), id: Id, set: Changes(Site.properties) }),
  Closed({ kind: Type.Literal('changeNote'), id: Id, set: Changes(Note.properties) }),
  Closed({ kind: Type.Literal('changePicture'), id: Id, set: Changes(Picture.properties) }),
  Closed({ kind: Type.Literal('setComment'), id: Id, set: OrNull(Comment) }),
  Closed({ kind: Type.Literal('setModel'), id: Id, set: OrNull(Model) }),
  Closed({
    kind: Type.Literal('setDocument'),
    set: Closed({
      title: Maybe(OrNull(Line)),
      author: Maybe(OrNull(Name)),
      legend: Maybe(OrNull(Paragraphs)),
      endTexts: Maybe(OrNull(EndTexts)),
    }),
  }),
  Closed({ kind: Type.Literal('replace'), topology: Topology }),
  Closed({
    kind: Type.Literal('edits'),
    edits: ListOf(Closed({ path: ListOf(Type.String({ maxLength: 64 }), 16), value: Maybe(Type.Unknown()) }), 50_000),
  }),
] as const;
/** A single change of a drawing, as it is sent and kept. */
export const SimpleCommand = Type.Union([...Simple]);
/** A change of a drawing: a single one, or several that are made and undone together. */
export const Command = Type.Union([
  ...Simple,
  Closed({ kind: Type.Literal('batch'), title: Line, commands: ListOf(SimpleCommand, 20_000) }),
]);
export type SimpleCommand = Static<typeof SimpleCommand>;
export type Command = Static<typeof Command>;
