import { mount } from 'svelte';
import Client from './places/client/Client.svelte';
import './look/app.css';

mount(Client, { target: document.getElementById('app')! });
