import type { ComponentType } from 'react';
import { BuildScreen } from '../screens/build/BuildScreen';
import { CompareScreen } from '../screens/compare/CompareScreen';
import { FinishScreen } from '../screens/finish/FinishScreen';
import { MatchScreen } from '../screens/match/MatchScreen';
import { ListenScreen } from '../screens/listen/ListenScreen';
import { ReadScreen } from '../screens/read/ReadScreen';

interface StudyScreen {
  /** Last part of its address. */
  id: string;
  title: string;
  Screen: ComponentType;
  /** Whether the ledger stands beside it. */
  ledger: boolean;
}

/**
 * The steps of a study in the order of work. Routes, rail, keys 1 to 6 and the place of the ledger are made
 * of this list.
 */
export const studyScreens: readonly StudyScreen[] = [
  { id: 'listen', title: 'Listen', Screen: ListenScreen, ledger: false },
  { id: 'read', title: 'Read', Screen: ReadScreen, ledger: true },
  { id: 'build', title: 'Build', Screen: BuildScreen, ledger: true },
  { id: 'match', title: 'Match', Screen: MatchScreen, ledger: true },
  { id: 'compare', title: 'Compare', Screen: CompareScreen, ledger: true },
  { id: 'finish', title: 'Finish', Screen: FinishScreen, ledger: false },
];
