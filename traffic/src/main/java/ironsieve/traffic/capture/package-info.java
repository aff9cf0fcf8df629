/**
 * Capture files as packets: pcap and pcapng, gzipped or not, and what lies below IP in a frame. No
 * other package knows how a capture is written.
 */
package ironsieve.traffic.capture;
