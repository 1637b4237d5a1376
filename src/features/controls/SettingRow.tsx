'use client';
import type { Setting } from '../../core/settings/setting';
import { ChoiceRow } from './ChoiceRow';
import { ColourRow } from './ColourRow';
import { CurveEditor } from './CurveEditor';
import { ImageRow } from './ImageRow';
import { NumberRow } from './NumberRow';
import { SwitchRow } from './SwitchRow';
import { TextRow } from './TextRow';
import { WeightsRow } from './WeightsRow';

/** The row of a setting, by its kind. Orders and lists of masks have places of their own. */
export function SettingRow({ setting }: { setting: Setting }) {
  switch (setting.kind) {
    case 'number':
      return <NumberRow setting={setting} />;
    case 'choice':
    case 'pass':
    case 'mask':
      return <ChoiceRow setting={setting} />;
    case 'colour':
      return <ColourRow setting={setting} />;
    case 'curve':
      return <CurveEditor setting={setting} />;
    case 'image':
      return <ImageRow setting={setting} />;
    case 'weights':
      return <WeightsRow setting={setting} />;
    case 'text':
      return <TextRow setting={setting} />;
    case 'switch':
      return <SwitchRow setting={setting} />;
    default:
      return null;
  }
}
