import { type Device, type Settings, filled } from '@sobrin/core/topology';
import { Choice, Row, TextInput } from '../../ui/fields';
import { ListPart } from '../../ui/list-part';
import { Fold } from '../../ui/sections';
import { addressProblem } from './checks';
import { useSettings } from './use-settings';

type Management = NonNullable<Settings['management']>;
type User = NonNullable<Management['users']>[number];

/** Who may sign in to a network device, and how. */
export function ManagementPart({ id, device }: { id: string; device: Device }) {
  const { settings, set } = useSettings(id, device);
  const now: Management = settings.management ?? {};
  const put = (change: { [K in keyof Management]?: Management[K] | undefined }): void =>
    set('change remote access', { management: filled({ ...now, ...change }) });
  const words = [now.ssh && 'ssh', now.telnet && 'telnet'].filter(Boolean).join(', ');
  return (
    <>
      <Fold title="Remote access" aside={words || 'none'}>
        {(['ssh', 'telnet'] as const).map((key) => (
          <Row key={key} label={key}>
            <Choice
              label={key}
              value={now[key] ? 'on' : 'off'}
              options={[
                { value: 'off', text: 'off' },
                { value: 'on', text: 'on' },
              ]}
              onChange={(value) => put({ [key]: value === 'on' ? true : undefined })}
            />
          </Row>
        ))}
        <Row label="Console">
          <Choice
            label="Sign-in at the console"
            value={now.console ?? 'open'}
            options={[
              { value: 'open', text: 'open to everybody' },
              { value: 'password', text: 'asks for a password' },
              { value: 'user', text: 'asks for user and password' },
            ]}
            onChange={(value) => put({ console: value === 'open' ? undefined : value })}
          />
        </Row>
        <Row label="Changing">
          <Choice
            label="Password for changing settings"
            value={now.privileged ?? 'none'}
            options={[
              { value: 'none', text: 'no password' },
              { value: 'clear', text: 'password in clear text' },
              { value: 'hashed', text: 'password, hashed' },
            ]}
            onChange={(value) => put({ privileged: value === 'none' ? undefined : value })}
          />
        </Row>
        <Row label="Time from">
          <TextInput
            label="Time server"
            mono
            value={now.time ?? ''}
            check={addressProblem}
            onCommit={(text) => put({ time: text || undefined })}
          />
        </Row>
        <ListPart<User>
          title="Users"
          entryName="user"
          entries={now.users ?? []}
          blank={{ name: '' }}
          onStore={(users) => put({ users: users.length ? users : undefined })}
          columns={[
            {
              label: 'name',
              width: 'minmax(0, 1fr)',
              read: (user) => user.name,
              write: (user, name) => ({ ...user, name }),
            },
            {
              label: 'password',
              width: 'minmax(0, 1fr)',
              mono: true,
              read: (user) => user.password ?? '',
              write: ({ password: _old, ...user }, password) => ({ ...user, ...(password && { password }) }),
            },
          ]}
        />
      </Fold>
    </>
  );
}
