import { Tooltip } from 'radix-ui';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { App } from './app.tsx';
import { store } from './state/store.ts';
import { keepLooks } from './state/kept-looks.ts';
import { keepLeftOff } from './state/left-off.ts';
import { refuseStrayDrops } from './ui/stray-drops.ts';
import './styles.css';

keepLooks(store);
keepLeftOff(store);
refuseStrayDrops(store);

createRoot(document.getElementById('root') as HTMLElement).render(
  <Provider store={store}>
    <Tooltip.Provider delayDuration={500}>
      <App />
    </Tooltip.Provider>
  </Provider>,
);
