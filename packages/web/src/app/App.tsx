import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { type ReactNode, useEffect } from 'react';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { Toaster } from 'sonner';
import { KeepingScreen } from '../screens/keeping/KeepingScreen';
import { StudiesScreen } from '../screens/studies/StudiesScreen';
import { ScreenBoundary } from '../components/ScreenBoundary';
import { StudyFrame } from './StudyFrame';
import { releaseFocusOfPointers } from './releaseFocus';
import { studyScreens } from './screens';
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
            <Route index element={<Navigate to={studyScreens[0].id} replace />} />
            {studyScreens.map(({ id, Screen }) => (
              <Route key={id} path={id} element={<Screen />} />
            ))}
          </Route>
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </BrowserRouter>
      <Toaster position="bottom-center" theme={theme === 'night' ? 'dark' : 'light'} />
    </QueryClientProvider>
  );
}
