'use client';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { elementPath } from '../../../core/look/look';
import { elementOf } from '../../../core/settings/element';
import { useShot } from '../../../state/shot-store';
import { Group, Rows } from '../../controls';
import { chooseVersion, useFileChooser } from '../../session';
import { DepthSketch } from './DepthSketch';
import { ElementList } from './ElementList';
import { Fold } from './Fold';
import { useElement } from './use-element';
import { useElementFacts } from './use-element-facts';

/** How an element lies among the others. */
const PLACE = ['mode', 'opacity', 'alpha', 'heldOut', 'byDepth', 'distance', 'x', 'y', 'scale'] as const;

/** The plate's elements, how the chosen one lies among them, and where all are in depth. */
export function ElementGroup() {
  const { index, count, entry } = useElement();
  const facts = useElementFacts();
  const settings = useShot((state) => elementOf(state.look, index));
  const change = useShot((state) => state.change);
  const own = facts?.find((one) => one.index === index);
  const paths = PLACE.map((name) => elementPath(index, name));
  const isAlone = count === 1;
  return (
    <Group title="Elements" paths={paths} summary={isAlone ? '' : String(count)}>
      <ElementList />
      {!isAlone && facts && <DepthSketch facts={facts} />}
      {!isAlone && entry && (
        <Box component="section" aria-label={`Element ${entry.name}`} sx={{ pt: 0.5 }}>
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 24 }}>
            <Box sx={{ flex: 1, minWidth: 0, fontSize: 12, fontWeight: 600 }}>{entry.name}</Box>
            <ReplaceButton
              plate={entry.id}
              versions={entry.versions.length}
              version={entry.version}
              frame={entry.frame}
            />
          </Box>
          {own?.fitsBehind && !settings.heldOut && (
            <Alert
              severity="info"
              sx={{ py: 0, my: 0.5, fontSize: 11 }}
              action={
                <Button
                  size="small"
                  color="inherit"
                  onClick={() => change(elementPath(index, 'heldOut'), true)}
                >
                  Join them
                </Button>
              }
            >
              Its soft edges fit those of the element behind it, as if one had been cut by the other. Laid
              over each other they would be there twice.
            </Alert>
          )}
          <Rows paths={paths} />
        </Box>
      )}
      {isAlone && (
        <Fold title="Opacity, place and distance" paths={paths}>
          <Rows paths={paths} />
        </Fold>
      )}
    </Group>
  );
}

interface ReplaceButtonProps {
  plate: string;
  versions: number;
  version: number;
  frame: number;
}

/** Brings a newer render in for an element, and goes back and forth between its versions. */
function ReplaceButton({ plate, versions, version, frame }: ReplaceButtonProps) {
  const choose = useFileChooser();
  return (
    <>
      {versions > 1 && (
        <Button
          size="small"
          color="inherit"
          aria-label="Next version"
          onClick={() => void chooseVersion(plate, (version + 1) % versions, frame)}
          sx={{ fontFamily: 'var(--figures)', fontSize: 11, minWidth: 0 }}
        >
          version {version + 1} of {versions}
        </Button>
      )}
      <Button
        size="small"
        color="inherit"
        onClick={() => choose({ kind: 'replace', plate })}
        sx={{ fontSize: 11, color: 'text.secondary' }}
      >
        Replace the render…
      </Button>
    </>
  );
}
