import { FootageStrip, PlayingStage } from '../../stone/footage-screen.js';
import type { StoneScreen } from '../../stone/stone.js';
import { BankHead } from '../../ui/Bank.js';
import classes from './dress.module.css';

/** The footage, and a plain word: nothing can be set here yet. */
export const screen: StoneScreen = { Stage: PlayingStage, Bank: DressBank, Lower: FootageStrip };

function DressBank() {
  return (
    <>
      <BankHead
        title="Dress"
        about="Here will be colour, looks, captions and a border. Until then the footage keeps its own colours."
      />
      <p className={classes.note}>Dress is not built yet. Nothing on this stone can be set.</p>
    </>
  );
}
