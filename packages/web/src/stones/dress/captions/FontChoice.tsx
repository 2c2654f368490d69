import { Button, FileButton, Select, Text } from '@mantine/core';
import { FONT_IDS, FONTS } from '@muted-pond/core/dress';
import { putLayerFile } from '../../../api/layers.js';
import { tellProblem } from '../../../ui/notify.js';
import classes from '../dress.module.css';
import { fontLabel, useFonts } from './use-fonts.js';

interface FontChoiceProps {
  readonly font: string;
  readonly onChange: (font: string) => void;
}

/** A font that ships, or one's own. */
export function FontChoice({ font, onChange }: FontChoiceProps) {
  const faces = useFonts();
  const known = faces.map((face) => ({ value: face.id, label: fontLabel(face) }));
  const data = known.length > 0 ? known : FONT_IDS.map((id) => ({ value: id, label: FONTS[id].label }));
  const bring = async (file: File | null) => {
    if (!file) return;
    try {
      onChange((await putLayerFile(file, file.name, 'font')).hash);
    } catch (error) {
      tellProblem(error);
    }
  };
  return (
    <div className={classes.font}>
      <Select
        size="xs"
        aria-label="Font"
        allowDeselect={false}
        maxDropdownHeight={320}
        data={data}
        value={font}
        onChange={(next) => next && onChange(next)}
        renderOption={({ option }) => {
          const shipped = FONT_IDS.find((id) => id === option.value);
          return (
            <div>
              <Text size="sm">{option.label}</Text>
              {shipped && (
                <Text size="xs" c="dimmed">
                  {FONTS[shipped].about}
                </Text>
              )}
            </div>
          );
        }}
      />
      <FileButton accept=".ttf,.otf,.woff2" onChange={(file) => void bring(file)}>
        {(props) => (
          <Button {...props} size="compact-xs" variant="subtle">
            Own font
          </Button>
        )}
      </FileButton>
    </div>
  );
}
