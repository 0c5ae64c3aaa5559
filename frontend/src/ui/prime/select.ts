export { default } from 'primevue/select'
