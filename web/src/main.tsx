import '@fontsource/figtree/400.css';
import '@fontsource/figtree/500.css';
import '@fontsource/figtree/600.css';
import '@fontsource/jetbrains-mono/400.css';
import '@fontsource/jetbrains-mono/400-italic.css';
import '@fontsource/newsreader/400.css';
import '@fontsource/newsreader/500.css';
import './app.css';
import { QueryClientProvider } from '@tanstack/react-query';
import { createRoot } from 'react-dom/client';
import { queryClient } from './api/queries';
import { App } from './App';
import { registerServiceWorker } from './offline/serviceWorker';
import { askAhead } from './rooms/ahead';
import { steadyPresses } from './ui/steadyPress';

askAhead(window.location.pathname);
steadyPresses(document);

createRoot(document.getElementById('root')!).render(
  <QueryClientProvider client={queryClient}>
    <App />
  </QueryClientProvider>,
);

registerServiceWorker();
