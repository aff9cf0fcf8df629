/**
 * What is said in a flow, read far enough to say what it is: TLS, QUIC, HTTP, DNS, and the first
 * bytes of everything else. The result is {@code ConnectionFacts}: facts that signatures ask about.
 * Every reader keeps a bounded number of bytes and throws on no input.
 */
package ironsieve.traffic.protocol;
