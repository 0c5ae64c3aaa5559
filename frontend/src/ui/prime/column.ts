export { default } from 'primevue/column'
