import { Box } from '@mui/material';
import { type Distances, USUAL_DISTANCES } from '@sobrin/core/engine';
import { type Policy } from '@sobrin/core/spec';
import { Choice, TextInput } from '../ui/fields';
import { Sentence } from '../ui/sentence';
import { Group, type SetRules } from './rules-group';

const SOURCES: Readonly<Record<keyof Distances, string>> = {
  static: 'static routes',
  ospf: 'OSPF',
  rip: 'RIP',
  learnt: 'what is learnt by DHCP or advertisements',
};
const SPAN = /^([1-9]\d?|1\d\d|2[0-4]\d|25[0-5])$/;

/** What the equipment of a lab does where standards and makers leave a choice. */
export function EquipmentRules({ policy, onSet }: { policy: Policy; onSet: SetRules }) {
  return (
    <Group title="The equipment">
      <Sentence>
        Modules{' '}
        <Choice
          label="Modules"
          value={policy.modules ?? 'any-time'}
          options={[
            { value: 'any-time', text: 'can be changed at any time' },
            { value: 'power-off', text: 'can be changed only while the power is off' },
          ]}
          onChange={(value) => onSet({ modules: value === 'any-time' ? undefined : value })}
        />
        .
      </Sentence>
      <Sentence>
        Copper ports:{' '}
        <Choice
          label="Copper ports"
          value={policy.autoPairing === false ? 'off' : 'on'}
          options={[
            { value: 'on', text: 'gigabit ports find their pairing themselves' },
            { value: 'off', text: 'as in older kit, cables must be right' },
          ]}
          onChange={(value) => onSet({ autoPairing: value === 'off' ? false : undefined })}
        />
        .
      </Sentence>
      <Sentence>
        VLANs{' '}
        <Choice
          label="VLAN database"
          value={policy.vlanDatabase ?? 'implicit'}
          options={[
            { value: 'implicit', text: 'exist where they are used' },
            { value: 'created', text: 'must be created on each switch' },
          ]}
          onChange={(value) => onSet({ vlanDatabase: value === 'implicit' ? undefined : value })}
        />
        .
      </Sentence>
      <Sentence>
        Filters see what leaves{' '}
        <Choice
          label="What filters see of translated packets"
          value={policy.filterOut ?? 'before-translation'}
          options={[
            { value: 'before-translation', text: 'as it was before translation' },
            { value: 'after-translation', text: 'as it is translated' },
          ]}
          onChange={(value) => onSet({ filterOut: value === 'before-translation' ? undefined : value })}
        />
        .
      </Sentence>
      <Sentence>
        Areas of OSPF are joined by{' '}
        <Choice
          label="Which routers join areas of OSPF"
          value={policy.borderRouters ?? 'rfc3509'}
          options={[
            { value: 'rfc3509', text: 'routers in the backbone' },
            { value: 'rfc2328', text: 'routers in several areas' },
          ]}
          onChange={(value) => onSet({ borderRouters: value === 'rfc3509' ? undefined : value })}
        />
        .
      </Sentence>
      <DistanceRule distances={policy.distances} onSet={(distances) => onSet({ distances })} />
    </Group>
  );
}

/** Which source of routes is believed more. */
function DistanceRule({
  distances = {},
  onSet,
}: {
  distances: Policy['distances'];
  onSet: (distances: Policy['distances']) => void;
}) {
  const put = (source: keyof Distances, text: string): void => {
    if (text !== '' && !SPAN.test(text)) return;
    const { [source]: _was, ...others } = distances;
    const value = text === '' ? undefined : Number(text);
    const next = { ...others, ...(value !== undefined && value !== USUAL_DISTANCES[source] && { [source]: value }) };
    onSet(Object.keys(next).length ? next : undefined);
  };
  return (
    <>
      <Sentence>Routes are believed by their distances, the smallest first:</Sentence>
      <Box sx={{ display: 'grid', gridTemplateColumns: '76px 1fr', alignItems: 'center', gap: 0.5, pl: 2 }}>
        {(Object.keys(SOURCES) as (keyof Distances)[]).map((source) => (
          <Box key={source} sx={{ display: 'contents' }}>
            <TextInput
              label={`Distance of routes: ${SOURCES[source]}`}
              mono
              placeholder={String(USUAL_DISTANCES[source])}
              value={distances[source] === undefined ? '' : String(distances[source])}
              strict
              check={(text) =>
                SPAN.test(text) ? null : `A number from 1 to 255; leave it empty for ${USUAL_DISTANCES[source]}.`
              }
              onCommit={(text) => put(source, text)}
            />
            <Box component="span" sx={{ color: 'var(--ink2)', fontSize: 13 }}>
              {SOURCES[source]}
            </Box>
          </Box>
        ))}
      </Box>
    </>
  );
}
