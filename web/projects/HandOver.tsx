import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, type PackageOrder } from '../app/api';
import { Fault } from '../app/Fault';
import { Button, Row } from '../controls/basics';
import { Choice } from '../controls/choice';
import { PackageEstimate } from '../handovers/PackageEstimate';

/** Orders a package of a profile and goes to where its progress is shown. */
export function HandOver({
  what,
  name,
  profileLabel,
  main = false,
}: {
  what: Pick<PackageOrder, 'items' | 'projectId'>;
  name: string;
  profileLabel: string;
  main?: boolean;
}) {
  const { data } = api.useHandoversQuery();
  const [order, { error, isLoading }] = api.useOrderHandoverMutation();
  const [profile, setProfile] = useState('general-2048');
  const navigate = useNavigate();
  const send = () =>
    void order({ ...what, profile })
      .unwrap()
      .then(
        () => navigate('/handovers'),
        () => undefined,
      );
  return (
    <Row $gap={6}>
      <PackageEstimate order={{ ...what, profile }} />
      <Choice
        hideLabel
        inline
        label={profileLabel}
        value={profile}
        options={(data?.profiles ?? []).map((p) => ({ value: p.id, name: p.name }))}
        onChange={setProfile}
      />
      <Button weight={main ? 'main' : 'plain'} isDisabled={isLoading} onPress={send}>
        {name}
      </Button>
      <Fault error={error} />
    </Row>
  );
}
