export { default } from 'primevue/dialog'
