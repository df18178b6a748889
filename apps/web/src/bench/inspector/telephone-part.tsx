import { type Device, filled } from '@sobrin/core/topology';
import { Row, TextInput } from '../../ui/fields';
import { Part } from '../../ui/sections';
import { addressProblem } from './checks';
import { useSettings } from './use-settings';

/** What others call a telephone by, and who puts its calls through. */
export function TelephonePart({ id, device }: { id: string; device: Device }) {
  const { settings, set } = useSettings(id, device);
  const now = settings.telephony ?? {};
  return (
    <Part title="Telephone">
      <Row label="Extension">
        <TextInput
          label="Extension"
          mono
          value={now.extension ?? ''}
          maxLength={80}
          onCommit={(extension) => set('set the extension', { telephony: filled({ ...now, extension }) })}
        />
      </Row>
      <Row label="Call server">
        <TextInput
          label="Call server"
          mono
          value={now.callServer ?? ''}
          check={addressProblem}
          maxLength={64}
          onCommit={(callServer) => set('set the call server', { telephony: filled({ ...now, callServer }) })}
        />
      </Row>
    </Part>
  );
}
