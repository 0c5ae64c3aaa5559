export { default } from 'primevue/drawer'
