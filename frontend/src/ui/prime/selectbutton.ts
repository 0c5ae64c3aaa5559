export { default } from 'primevue/selectbutton'
