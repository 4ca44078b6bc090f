<script lang="ts">
  import { FileUpload } from '@skeletonlabs/skeleton-svelte';
  import { refuse } from './toast';

  /** Pictures or files to hand over: chosen, or dropped here. */
  let {
    label,
    accept = 'pictures',
    most = 30,
    disabled = false,
    onfiles,
  }: {
    label: string;
    accept?: 'pictures' | 'files';
    most?: number;
    disabled?: boolean;
    onfiles: (files: File[]) => void;
  } = $props();
</script>

<FileUpload
  class="files"
  accept={accept === 'pictures' ? 'image/*' : undefined}
  maxFiles={most}
  acceptedFiles={[]}
  {disabled}
  onFileReject={(d) => {
    const no = d.files[0];
    if (no) refuse(`${no.file.name} is no picture that a page can show. Send a JPEG, PNG, GIF, WebP or SVG.`);
  }}
  onFileAccept={(d) => d.files.length && onfiles(d.files)}
>
  <FileUpload.Label class="files-label">{label}</FileUpload.Label>
  <FileUpload.Dropzone class="files-drop"
    ><span class="small soft">drop {most === 1 ? 'it' : 'them'} here, or</span></FileUpload.Dropzone
  >
  <FileUpload.Trigger class="btn slim">Choose</FileUpload.Trigger>
  <FileUpload.HiddenInput />
</FileUpload>

<style>
  :global(.files.files) {
    display: flex;
    flex-direction: row;
    flex-wrap: wrap;
    gap: var(--step) var(--step-2);
    align-items: center;
    width: 100%;
  }
  :global(.files .files-label) {
    width: 100%;
    font: inherit;
    font-weight: 600;
  }
  :global(.files.files .btn) {
    background: var(--paper);
    color: var(--ink);
  }
  :global(.files.files .btn:hover) {
    background: var(--indigo-wash);
  }
  :global(.files .files-drop) {
    flex: 1;
    min-height: 0;
    padding: var(--step-2) var(--step-2h);
    text-align: center;
    border: 1.5px dashed var(--hem-strong);
    border-radius: var(--radius);
    background: none;
  }
  :global(.files .files-drop[data-dragging]) {
    border-color: var(--indigo);
    background: var(--indigo-wash);
  }
</style>
