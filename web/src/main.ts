import { mount } from 'svelte'
import '@fontsource/barlow/latin-400.css'
import '@fontsource/barlow/latin-500.css'
import '@fontsource/barlow/latin-600.css'
import '@fontsource/barlow/latin-ext-400.css'
import '@fontsource/barlow/latin-ext-500.css'
import '@fontsource/barlow-semi-condensed/latin-500.css'
import '@fontsource/barlow-semi-condensed/latin-600.css'
import './app.css'

import App from './App.svelte'
import { device } from './lib/device.svelte'
import { offline } from './lib/offline.svelte'

const target = document.getElementById('app')
offline.start()
void device.start().then(() => target && mount(App, { target }))
