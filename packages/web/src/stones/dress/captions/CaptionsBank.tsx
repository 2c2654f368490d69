import { Button, Menu } from '@mantine/core';
import { CAPTION_STARTS, type Caption, newCaption } from '@muted-pond/core/dress';
import { IconPlus } from '@tabler/icons-react';
import { BankSection } from '../../../ui/Bank.js';
import classes from '../dress.module.css';
import { addEntry } from '../dress-edits.js';
import { setDressView, useDressView } from '../dress-view.js';
import { EntryList } from '../EntryList.js';
import { useDressEdits, useDressPart } from '../use-dress.js';
import { CaptionSection } from './CaptionSection.js';
import { SubtitlesSection } from './SubtitlesSection.js';

/** Words over the picture. */
export function CaptionsBank() {
  const { change } = useDressEdits();
  const captions = useDressPart('captions');
  const chosenId = useDressView((view) => view.chosen);
  const chosen = captions.find((one) => one.id === chosenId);
  const add = (start: (typeof CAPTION_STARTS)[keyof typeof CAPTION_STARTS]) => {
    const id = crypto.randomUUID();
    change((recipe) => addEntry(recipe, 'captions', newCaption(start, id)));
    // What one types next are its words.
    setDressView({ chosen: id, typing: id, bare: false });
  };
  return (
    <>
      <BankSection title="Captions">
        {captions.length === 0 && (
          <p className={classes.note}>
            Begin with one of these; then type on the picture. It stays for the whole loop until you say
            otherwise.
          </p>
        )}
        {captions.length === 0 ? (
          <div className={classes.starts}>
            {Object.values(CAPTION_STARTS).map((start) => (
              <Button key={start.name} size="compact-sm" variant="default" onClick={() => add(start)}>
                {start.name}
              </Button>
            ))}
          </div>
        ) : (
          <>
            <EntryList list="captions" label="Captions, the highest first" names={namesOf(captions)} />
            <Menu position="bottom-start" withinPortal returnFocus={false}>
              <Menu.Target>
                <Button size="compact-sm" variant="default" leftSection={<IconPlus size={14} />}>
                  Another caption
                </Button>
              </Menu.Target>
              <Menu.Dropdown>
                {Object.values(CAPTION_STARTS).map((start) => (
                  <Menu.Item key={start.name} onClick={() => add(start)}>
                    {start.name}
                  </Menu.Item>
                ))}
              </Menu.Dropdown>
            </Menu>
          </>
        )}
      </BankSection>
      {chosen && <CaptionSection key={chosen.id} caption={chosen} />}
      <SubtitlesSection like={chosen ?? captions.at(-1) ?? null} />
    </>
  );
}

function namesOf(captions: readonly Caption[]): Record<string, string> {
  return Object.fromEntries(
    captions.map(({ id, text }) => [id, text.trim().replace(/\s+/g, ' ').slice(0, 40) || 'No words yet']),
  );
}
