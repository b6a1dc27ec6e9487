/**
 * Animations of style sheets are held while a page is measured: what ends is at its end, what goes on for ever at its
 * beginning, so that two readings differ by what was changed and not by when they were taken (CSS Animations 2 §2). Says
 * whether there are any: they begin anew where a box is made anew.
 */
export function holdAnimations(): boolean {
  const animations = document.getAnimations();
  for (const animation of animations) {
    if (!(animation instanceof CSSAnimation || animation instanceof CSSTransition)) continue;
    if (animation.playState === 'paused' || animation.playState === 'finished') continue;
    if (animation.effect?.getComputedTiming().endTime === Infinity) {
      animation.pause();
      animation.currentTime = 0;
    } else animation.finish();
  }
  return animations.length > 0;
}
