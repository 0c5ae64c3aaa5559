export { default } from 'primevue/textarea'
