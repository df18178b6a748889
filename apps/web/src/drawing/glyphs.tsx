import {
  IconAccessPoint, IconArrowsRightLeft, IconBuildingBroadcastTower, IconCashRegister, IconCloud, IconDeviceCctv, IconDeviceDesktop, IconDeviceLaptop,
  IconDeviceMobile, IconDeviceTablet, IconDirections, IconDoorEnter, IconFocusCentered, IconGridDots, IconHome, IconMinus, IconPhone, IconPrinter, IconAdjustmentsHorizontal,
  IconServer, IconShield, IconStack2, IconWind, type Icon,
} from '@tabler/icons-react';
import { type DeviceKind } from '@sobrin/core';

/** Plain line glyphs; the two letters in the corner of a tile say the kind for certain. */
export const GLYPHS: Record<DeviceKind, Icon> = {
  router: IconDirections,
  switch: IconGridDots,
  'l3-switch': IconStack2,
  hub: IconFocusCentered,
  firewall: IconShield,
  'access-point': IconAccessPoint,
  'home-gateway': IconHome,
  modem: IconBuildingBroadcastTower,
  converter: IconArrowsRightLeft,
  segment: IconMinus,
  cloud: IconCloud,
  desktop: IconDeviceDesktop,
  laptop: IconDeviceLaptop,
  server: IconServer,
  printer: IconPrinter,
  phone: IconPhone,
  tablet: IconDeviceTablet,
  smartphone: IconDeviceMobile,
  camera: IconDeviceCctv,
  till: IconCashRegister,
  turnstile: IconDoorEnter,
  controller: IconAdjustmentsHorizontal,
  sensor: IconWind,
};
