/** Three short tones; browsers that have not been touched yet stay silent, so the title says it too. */
export function chime(): void {
  try {
    const audio = new AudioContext();
    for (const [index, pitch] of [660, 880, 660].entries()) {
      const tone = audio.createOscillator();
      const volume = audio.createGain();
      const at = audio.currentTime + index * 0.35;
      tone.frequency.value = pitch;
      volume.gain.setValueAtTime(0.0001, at);
      volume.gain.exponentialRampToValueAtTime(0.25, at + 0.03);
      volume.gain.exponentialRampToValueAtTime(0.0001, at + 0.3);
      tone.connect(volume).connect(audio.destination);
      tone.start(at);
      tone.stop(at + 0.32);
    }
    setTimeout(() => void audio.close(), 2000);
  } catch {
    // No sound device: the bar and the title say it.
  }
}
