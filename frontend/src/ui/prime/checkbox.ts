export { default } from 'primevue/checkbox'
