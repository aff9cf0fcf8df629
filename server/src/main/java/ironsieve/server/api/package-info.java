/**
 * The HTTP API under {@code /api}, described by OpenAPI at {@code /api/openapi}. In: requests. Out:
 * views, which are what the front end shows, and problem documents (RFC 9457) where a request
 * cannot be met. Decides nothing itself.
 */
package ironsieve.server.api;
