/**
 * A stand-in of a gateway: a process of its own that fetches releases, checks them, and decides
 * real connections on loopback by them. In: what the server tells it, and clients over SOCKS5. Out:
 * connections to stand-in servers, and a log.
 *
 * <pre>
 * ServerLink ─▶ ReleaseFolder ─▶ Policy ◀─ ClientConnection ◀─ SocksServer
 *                                              └─▶ ConnectionLog
 * </pre>
 */
package ironsieve.gateway;
