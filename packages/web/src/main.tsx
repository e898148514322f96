import 'bootstrap/dist/css/bootstrap.min.css';
import '@fontsource/ibm-plex-sans/400.css';
import '@fontsource/ibm-plex-sans/600.css';
import '@fontsource/ibm-plex-mono/400.css';
import './theme.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { RoomPage } from './shots/RoomPage';
import { ShotsPage } from './shots/ShotsPage';
import { Workbench } from './workbench/Workbench';
import { DiskWarning } from './ui/DiskWarning';
import { exposeForInspection } from './workers/inspect';
import './shots/shots.css';

exposeForInspection();
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <BrowserRouter>
      <DiskWarning />
      <Routes>
        <Route path="/" element={<ShotsPage />} />
        <Route path="/room" element={<RoomPage />} />
        <Route path="/shots/:id" element={<Navigate to="effects" replace />} />
        <Route path="/shots/:id/:step" element={<Workbench />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </BrowserRouter>
  </StrictMode>,
);
