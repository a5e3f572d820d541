import '@fontsource-variable/archivo'
import '@fontsource-variable/fraunces'
import 'vuetify/styles'
import './styles.css'
import { createApp } from 'vue'
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import App from './App.vue'
import { router } from './router'

const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: {
    defaultTheme: localStorage.getItem('birch_theme') === 'dark' ? 'dark' : 'light',
    themes: {
      light: { dark: false, colors: { background: '#EDEAE3', surface: '#FBF9F5', primary: '#3C5A29', error: '#A5301A', warning: '#734700', 'on-surface': '#1D1A17', 'on-background': '#1D1A17' } },
      dark: { dark: true, colors: { background: '#191714', surface: '#24211D', primary: '#9CC275', error: '#FF9A7D', warning: '#F6C566', 'on-surface': '#F4F0E8', 'on-background': '#F4F0E8' } },
    },
  },
  defaults: {
    VTextField: { variant: 'outlined', density: 'compact', hideDetails: 'auto', color: 'primary' },
    VSelect: { variant: 'outlined', density: 'compact', hideDetails: 'auto', color: 'primary' },
    VTextarea: { variant: 'outlined', density: 'compact', hideDetails: 'auto', color: 'primary' },
    VCheckbox: { density: 'compact', hideDetails: 'auto', color: 'primary' },
  },
})
createApp(App).use(router).use(vuetify).mount('#app')
