import { Box } from '@mui/material';
import { type Distances, USUAL_DISTANCES } from '@sobrin/core/engine';
import { type Policy } from '@sobrin/core/spec';
import { Choice, Row, TextInput } from '../ui/fields';

const SOURCES: Readonly<Record<keyof Distances, string>> = {
  static: 'static routes',
  ospf: 'OSPF',
  rip: 'RIP',
  learnt: 'learnt by DHCP or advertisements',
};
const SPAN = /^([1-9]\d?|1\d\d|2[0-4]\d|25[0-5])$/;

/** What routers of the lab do where standards leave a choice: who joins areas, and which source of routes is believed more. */
export function RoutingRows({
  policy: { borderRouters = 'rfc3509', distances = {} },
  onSet,
}: {
  policy: Policy;
  onSet: (change: { [K in 'borderRouters' | 'distances']?: Policy[K] | undefined }) => void;
}) {
  const put = (source: keyof Distances, text: string): void => {
    if (text !== '' && !SPAN.test(text)) return;
    const { [source]: _was, ...others } = distances;
    const value = text === '' ? undefined : Number(text);
    const next = { ...others, ...(value !== undefined && value !== USUAL_DISTANCES[source] && { [source]: value }) };
    onSet({ distances: Object.keys(next).length ? next : undefined });
  };
  return (
    <>
      <Row label="OSPF areas">
        <Choice
          label="Which routers join areas of OSPF"
          value={borderRouters}
          options={[
            { value: 'rfc3509', text: 'joined by routers in the backbone' },
            { value: 'rfc2328', text: 'joined by routers in several areas' },
          ]}
          onChange={(value) => onSet({ borderRouters: value === 'rfc3509' ? undefined : value })}
        />
      </Row>
      <Row label="Distances">
        <Box sx={{ display: 'grid', gridTemplateColumns: '72px 1fr', alignItems: 'center', gap: 0.5 }}>
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
      </Row>
    </>
  );
}
