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

const target = document.getElementById('app')
if (target) mount(App, { target })
