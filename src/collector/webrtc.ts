/**
 * Connections between peers are governed by no policy (WebRTC 1.0 §4): what makes them is taken away before the page runs. Where
 * the engine heeds the header that goes with every page, this is but the second door.
 */
const MAKERS = [
  'RTCPeerConnection',
  'webkitRTCPeerConnection',
  'mozRTCPeerConnection',
  'RTCIceGatherer',
  'WebTransport',
];

export function closeWebRtc(): void {
  for (const name of MAKERS)
    if (name in window)
      Object.defineProperty(window, name, { value: undefined, writable: false, configurable: false });
}
