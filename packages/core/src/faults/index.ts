/**
 * Known mistakes. In: a drawing, or a plan with its brief. Out: every place where one of them can be made, with the
 * commands that make it and a sentence. Tests, the drill and the diagnosis plant them.
 */
import { type DrawingFaultOperator, type PlanFaultOperator } from './fault';
import { addressMissing } from './addresses/address-missing';
import { addressOutsideSubnet } from './addresses/address-outside-subnet';
import { broadcastAddress } from './addresses/broadcast-address';
import { copiedDevice } from './addresses/copied-device';
import { duplicateAddress } from './addresses/duplicate-address';
import { gatewayMissing } from './addresses/gateway-missing';
import { gatewayNotLinkLocal } from './addresses/gateway-not-link-local';
import { gatewayNotRouter } from './addresses/gateway-not-router';
import { gatewayOutsideSubnet } from './addresses/gateway-outside-subnet';
import { mistypedRange } from './addresses/mistyped-range';
import { networkAddress } from './addresses/network-address';
import { overlappingSubnets } from './addresses/overlapping-subnets';
import { prefixTwice } from './addresses/prefix-twice';
import { straySpace } from './addresses/stray-space';
import { wrongPrefixLength } from './addresses/wrong-prefix-length';
import { duplexDifference } from './cabling/duplex-difference';
import { missingClock } from './cabling/missing-clock';
import { missingDevice } from './cabling/missing-device';
import { missingLink } from './cabling/missing-link';
import { missingModule } from './cabling/missing-module';
import { missingPowerSupply } from './cabling/missing-power-supply';
import { portOff } from './cabling/port-off';
import { portTakenTwice } from './cabling/port-taken-twice';
import { slowLink } from './cabling/slow-link';
import { slowPort } from './cabling/slow-port';
import { unconnectedDevice } from './cabling/unconnected-device';
import { unlabelledPort } from './cabling/unlabelled-port';
import { wrongCable } from './cabling/wrong-cable';
import { wrongPort } from './cabling/wrong-port';
import { accessVlan } from './switching/access-vlan';
import { bundleModes } from './switching/bundle-modes';
import { edgeRoot } from './switching/edge-root';
import { loop } from './switching/loop';
import { nativeVlan } from './switching/native-vlan';
import { trunkWithoutVlan } from './switching/trunk-without-vlan';
import { vlanNotCreated } from './switching/vlan-not-created';
import { filterTooLax } from './routing/filter-too-lax';
import { filterTooStrict } from './routing/filter-too-strict';
import { filterWrongSide } from './routing/filter-wrong-side';
import { forwardingOff } from './routing/forwarding-off';
import { missingRoute } from './routing/missing-route';
import { natSides } from './routing/nat-sides';
import { natSources } from './routing/nat-sources';
import { ospfArea } from './routing/ospf-area';
import { ospfNetwork } from './routing/ospf-network';
import { ospfPassive } from './routing/ospf-passive';
import { exhaustedPool } from './services/exhausted-pool';
import { missingRelay } from './services/missing-relay';
import { noPrivilegedPassword } from './services/no-privileged-password';
import { nobodyAnswers } from './services/nobody-answers';
import { notSaved } from './services/not-saved';
import { phoneWithoutPower } from './services/phone-without-power';
import { poolOfAnotherSubnet } from './services/pool-of-another-subnet';
import { secondDhcpServer } from './services/second-dhcp-server';
import { telnetOpen } from './services/telnet-open';
import { voiceVlan } from './services/voice-vlan';
import { duplicateName } from './naming/duplicate-name';
import { hostnameDiffers } from './naming/hostname-differs';
import { untitled } from './naming/untitled';
import { wrongSite } from './naming/wrong-site';
import { insideIsProvider } from './plan/inside-is-provider';
import { overlappingBlocks } from './plan/overlapping-blocks';
import { planDiffers } from './plan/plan-differs';
import { subnetTooSmall } from './plan/subnet-too-small';

export * from './fault';
export * from './keeping';
export * from './variations';

/** Every operator for mistakes in a drawing. */
export const DRAWING_FAULTS: readonly DrawingFaultOperator[] = [
  addressMissing,
  addressOutsideSubnet,
  broadcastAddress,
  copiedDevice,
  duplicateAddress,
  gatewayMissing,
  gatewayNotLinkLocal,
  gatewayNotRouter,
  gatewayOutsideSubnet,
  mistypedRange,
  networkAddress,
  overlappingSubnets,
  prefixTwice,
  straySpace,
  wrongPrefixLength,
  duplexDifference,
  missingClock,
  missingDevice,
  missingLink,
  missingModule,
  missingPowerSupply,
  portOff,
  portTakenTwice,
  slowLink,
  slowPort,
  unconnectedDevice,
  unlabelledPort,
  wrongCable,
  wrongPort,
  accessVlan,
  bundleModes,
  edgeRoot,
  loop,
  nativeVlan,
  trunkWithoutVlan,
  vlanNotCreated,
  filterTooLax,
  filterTooStrict,
  filterWrongSide,
  forwardingOff,
  missingRoute,
  natSides,
  natSources,
  ospfArea,
  ospfNetwork,
  ospfPassive,
  exhaustedPool,
  missingRelay,
  noPrivilegedPassword,
  nobodyAnswers,
  notSaved,
  phoneWithoutPower,
  poolOfAnotherSubnet,
  secondDhcpServer,
  telnetOpen,
  voiceVlan,
  duplicateName,
  hostnameDiffers,
  untitled,
  wrongSite,
];

export const PLAN_FAULTS: readonly PlanFaultOperator[] = [
  insideIsProvider,
  overlappingBlocks,
  planDiffers,
  subnetTooSmall,
];
