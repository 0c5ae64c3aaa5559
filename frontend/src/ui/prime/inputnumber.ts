export { default } from 'primevue/inputnumber'
