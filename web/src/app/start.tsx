import 'virtual:library-styles.css';
import '@fontsource/atkinson-hyperlegible-next/latin-400-italic.css';
import '@fontsource/atkinson-hyperlegible-mono/latin-400.css';
import '@/shared/theme/fonts.css';
import '@/shared/theme/base.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { installTheme } from '@/shared/theme/chosen';
import { leaveFieldsInTime } from '@/shared/ui/leaveField';
import { App } from './App';
import { firstView } from './places';

const root = document.getElementById('root');
if (!root) throw new Error('The page has no place for the application.');
const page = createRoot(root);
installTheme();
leaveFieldsInTime();
void firstView().then(() =>
  page.render(
    <StrictMode>
      <App />
    </StrictMode>,
  ),
);
