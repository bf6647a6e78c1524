import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { type ReactNode, useEffect } from 'react';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { Toaster } from 'sonner';
import { BuildScreen } from '../screens/build/BuildScreen';
import { CompareScreen } from '../screens/compare/CompareScreen';
import { FinishScreen } from '../screens/finish/FinishScreen';
import { KeepingScreen } from '../screens/keeping/KeepingScreen';
import { ListenScreen } from '../screens/listen/ListenScreen';
import { ReadScreen } from '../screens/read/ReadScreen';
import { StudiesScreen } from '../screens/studies/StudiesScreen';
import { ScreenBoundary } from '../components/ScreenBoundary';
import { StudyFrame } from './StudyFrame';
import { releaseFocusOfPointers } from './releaseFocus';
import { useSettings } from './settings';
import { connectStores } from './wiring';

const bounded = (screen: ReactNode) => <ScreenBoundary place="">{screen}</ScreenBoundary>;

const queries = new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } });

export function App() {
  const theme = useSettings((settings) => settings.theme);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  useEffect(connectStores, []);
  useEffect(releaseFocusOfPointers, []);
  return (
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <Routes>
          <Route path="/" element={bounded(<StudiesScreen />)} />
          <Route path="/keeping" element={bounded(<KeepingScreen />)} />
          <Route path="/studies/:studyId" element={<StudyFrame />}>
            <Route index element={<Navigate to="listen" replace />} />
            <Route path="listen" element={<ListenScreen />} />
            <Route path="read" element={<ReadScreen />} />
            <Route path="build" element={<BuildScreen />} />
            <Route path="compare" element={<CompareScreen />} />
            <Route path="finish" element={<FinishScreen />} />
          </Route>
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </BrowserRouter>
      <Toaster position="bottom-center" theme={theme === 'night' ? 'dark' : 'light'} />
    </QueryClientProvider>
  );
}
