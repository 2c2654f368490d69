import { createBrowserRouter, Navigate } from 'react-router';
import { LimitsPage } from './limits/LimitsPage.js';
import { ShelfPage } from './shelf/ShelfPage.js';
import { LostPage } from './ui/LostPage.js';
import { WorkspacePage } from './workspace/WorkspacePage.js';

export const router = createBrowserRouter([
  { path: '/', element: <ShelfPage list="pieces" />, errorElement: <LostPage /> },
  { path: '/footage', element: <ShelfPage list="footage" />, errorElement: <LostPage /> },
  { path: '/limits', element: <LimitsPage />, errorElement: <LostPage /> },
  { path: '/pieces/:piece', element: <Navigate to="cut" replace />, errorElement: <LostPage /> },
  { path: '/pieces/:piece/:stone', element: <WorkspacePage />, errorElement: <LostPage /> },
  { path: '*', element: <LostPage /> },
]);
