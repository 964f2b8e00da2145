import { type Addresses } from '../app/api';
import { Fault } from '../app/Fault';

import { Field, TextLine } from '../controls/fields';
import { receivingApi } from './receiving-api';

/** Where an outside service is reached. */
export function Address({ of, name }: { of: keyof Addresses; name: string }) {
  const { data } = receivingApi.useAddressesQuery();
  const [set, { error }] = receivingApi.useSetAddressesMutation();
  return (
    <Field>
      <label htmlFor={`address-${of}`}>{name}</label>
      <TextLine
        id={`address-${of}`}
        value={data?.[of] ?? ''}
        onChange={(value) => void set({ [of]: value.trim() })}
      />
      <Fault error={error} />
    </Field>
  );
}
