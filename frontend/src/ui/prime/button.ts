export { default } from 'primevue/button'
