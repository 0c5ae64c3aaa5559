export { default } from 'primevue/inputtext'
