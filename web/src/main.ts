import { mount } from 'svelte';
import App from './App.svelte';
import './look/app.css';

mount(App, { target: document.getElementById('app')! });
