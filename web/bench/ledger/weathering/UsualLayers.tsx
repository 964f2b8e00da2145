import styled from 'styled-components';
import { USUAL_LAYERS } from '@jossel/core/weathering';
import { Button } from '../../../controls/basics';

const Groups = styled.div`
  display: grid;
  gap: 8px;
  h4 {
    margin: 0 0 4px;
    font-size: 12px;
    font-weight: 600;
    color: ${({ theme }) => theme.quiet};
  }
  section > div {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
  }
`;

const GROUPS = [...new Set(USUAL_LAYERS.map(({ group }) => group))];

/** What usually happens to finishes, in groups; one is chosen to be laid next. */
export const UsualLayers = ({ onChoose }: { onChoose: (name: string) => void }) => (
  <Groups role="group" aria-label="Layers to add">
    {GROUPS.map((group) => (
      <section key={group}>
        <h4>{group}</h4>
        <div>
          {USUAL_LAYERS.filter((usual) => usual.group === group).map(({ name }) => (
            <Button key={name} onPress={() => onChoose(name)}>
              {name}
            </Button>
          ))}
        </div>
      </section>
    ))}
  </Groups>
);
