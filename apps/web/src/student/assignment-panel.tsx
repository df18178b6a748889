import { Box, Link as MuiLink, Typography } from '@mui/material';
import { type StudentLabView } from '@sobrin/contracts';
import { rulesOf, schemeWords, separationWords } from '@sobrin/core/plan';
import { MarkdownText } from '../ui/markdown';
import { Panel } from '../ui/panel';

/** The brief as its students read it. */
export function AssignmentPanel({ lab }: { lab: StudentLabView }) {
  const { brief } = lab;
  const {
    scenario,
    objectives = [],
    groups = [],
    schemes,
    separations = [],
    outside = [],
    resources = [],
    sites = [],
  } = brief;
  const rules = rulesOf(brief);
  const asked = [
    ...separations.map((separation) => separationWords(separation, brief)),
    ...(outside.length
      ? [`The provider hands out ${outside.join(' and ')}${rules.notOutside ? ': not to be used inside' : ''}.`]
      : []),
    ...(lab.names === 'exact' ? ['Devices are known by their names: give each the name that the lab gives it.'] : []),
    ...(rules.otherPrivate ? ['Inside, another private range than the provider’s is used.'] : []),
  ];
  return (
    <Panel title="What is asked">
      <Box sx={{ p: 2 }}>
        {scenario === undefined ? (
          <Typography>Your instructor has written no scenario.</Typography>
        ) : (
          <MarkdownText text={scenario} labId={lab.id} />
        )}
        {objectives.length > 0 && <Typography sx={{ mt: 1, fontWeight: 700 }}>Objectives</Typography>}
        {objectives.length > 0 && (
          <Box component="ul" sx={{ pl: 2.5, my: 1 }}>
            {objectives.map((objective) => (
              <li key={objective}>
                <MarkdownText text={objective} labId={lab.id} />
              </li>
            ))}
          </Box>
        )}
        {groups.length > 0 && (
          <Box
            component="table"
            sx={{
              width: '100%',
              mt: 1,
              borderCollapse: 'collapse',
              '& th, & td': { textAlign: 'left', py: '2px', pr: 1, borderTop: '1px solid var(--line)' },
              '& th': { fontSize: 12 },
            }}
          >
            <thead>
              <tr>
                <th>Group</th>
                <th>Site</th>
                <th style={{ textAlign: 'right' }}>Now</th>
                <th style={{ textAlign: 'right' }}>Later</th>
                <th>Needs</th>
              </tr>
            </thead>
            <tbody>
              {groups.map((group) => (
                <tr key={group.id}>
                  <td>{group.name}</td>
                  <td title={sites.find((each) => each.name === group.site)?.place}>{group.site}</td>
                  <td className="mono" style={{ textAlign: 'right' }}>
                    {group.now}
                  </td>
                  <td className="mono" style={{ textAlign: 'right', fontWeight: 650 }}>
                    {group.later}
                  </td>
                  <td style={{ color: 'var(--ink2)' }}>{group.needs?.join(', ')}</td>
                </tr>
              ))}
            </tbody>
          </Box>
        )}
        {asked.length > 0 && (
          <Box component="ul" sx={{ pl: 2.5, my: 1 }}>
            {asked.map((question) => (
              <li key={question}>{question}</li>
            ))}
          </Box>
        )}
        {schemes?.names && (
          <Typography sx={{ mt: 1 }}>
            <b>Names:</b> {schemeWords(schemes.names)}
          </Typography>
        )}
        {schemes?.addresses && (
          <Typography>
            <b>Addresses:</b> {schemes.addresses}
          </Typography>
        )}
        {(resources.length > 0 || lab.files.length > 0) && (
          <Typography component="div" sx={{ mt: 1 }}>
            <b>Resources:</b>{' '}
            {[
              ...resources.map((resource) => ({ id: resource.id, title: resource.title, address: resource.address })),
              ...lab.files.map((file) => ({
                id: file.id,
                title: file.name,
                address: `/api/labs/${lab.id}/files/${file.id}`,
              })),
            ].map((network, at) => (
              <span key={network.id}>
                {at > 0 && ', '}
                <MuiLink href={network.address} target="_blank" rel="noreferrer">
                  {network.title}
                </MuiLink>
              </span>
            ))}
          </Typography>
        )}
      </Box>
    </Panel>
  );
}
