import { createBrowserRouter, Navigate } from 'react-router';
import { ShelfPage } from './shelf/ShelfPage.js';
import { LostPage } from './ui/LostPage.js';

// Fetched when they are entered: the shelf is what comes first.
const limitsPage = async () => ({ Component: (await import('./limits/LimitsPage.js')).LimitsPage });
const practiceHostPage = async () => ({
  Component: (await import('./practice-host/PracticeHostPage.js')).PracticeHostPage,
});
const workspacePage = async () => ({
  Component: (await import('./workspace/WorkspacePage.js')).WorkspacePage,
});

export const router = createBrowserRouter([
  { path: '/', element: <ShelfPage list="pieces" />, errorElement: <LostPage /> },
  { path: '/footage', element: <ShelfPage list="footage" />, errorElement: <LostPage /> },
  { path: '/limits', lazy: limitsPage, errorElement: <LostPage /> },
  { path: '/practice-host', lazy: practiceHostPage, errorElement: <LostPage /> },
  { path: '/pieces/:piece', element: <Navigate to="cut" replace />, errorElement: <LostPage /> },
  { path: '/pieces/:piece/:stone', lazy: workspacePage, errorElement: <LostPage /> },
  { path: '*', element: <LostPage /> },
]);
