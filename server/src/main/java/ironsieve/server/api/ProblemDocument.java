package ironsieve.server.api;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;

/**
 * A problem document after RFC 9457.
 *
 * @param type a relative reference that names the kind of problem
 * @param title the kind in words
 * @param status the HTTP status
 * @param detail what happened this time, and what would be right
 * @param errors each field at fault
 * @param revision for a stale edit: the newest revision
 * @param since for a stale edit: what has changed since, oldest first
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ProblemDocument(
    String type,
    String title,
    int status,
    String detail,
    List<FieldError> errors,
    Long revision,
    List<Views.JournalView> since) {

  /**
   * One field at fault.
   *
   * @param place what it belongs to, such as {@code rule r17}
   * @param field its key, such as {@code from.zones}; may be empty
   * @param value the value of a list that is at fault, as it was written; null if it is none
   * @param position where in a text, in characters from its beginning; null if that says nothing
   */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record FieldError(
      String place, String field, String message, String value, Integer position) {

    FieldError(String place, String field, String message) {
      this(place, field, message, null, null);
    }
  }

  static ProblemDocument of(String type, String title, int status, String detail) {
    return new ProblemDocument("/problems/" + type, title, status, detail, null, null, null);
  }

  /** What an HTTP status means here, where nobody has said more. */
  static ProblemDocument ofStatus(int status) {
    return switch (status) {
      case 400 ->
          of(
              "bad-request",
              "The request cannot be read",
              400,
              "Something in the path, the query or the body is not what is expected here.");
      case 403 ->
          of(
              "forbidden",
              "This is not allowed",
              403,
              "Requests come from this application's own pages.");
      case 404 ->
          of(
              "not-found",
              "There is no such address",
              404,
              "The API has no such address, or something in it is not of the kind expected; /api/openapi"
                  + " describes all there are.");
      case 405 ->
          of(
              "method-not-allowed",
              "This cannot be done here",
              405,
              "The address is there, but not for this method; /api/openapi says for which.");
      case 406 ->
          of(
              "not-acceptable",
              "There is no answer of that kind",
              406,
              "Leave the Accept header out, or name the kind that /api/openapi describes.");
      case 408 ->
          of(
              "timeout",
              "The request took too long to arrive",
              408,
              "Send the whole request without pauses.");
      case 413 -> of("too-large", "The request is too large", 413, "A request has at most 32 MB.");
      case 414 -> of("too-long", "The address is too long", 414, "Send long texts in the body.");
      case 415 ->
          of(
              "unsupported-media-type",
              "The body is of another kind than expected",
              415,
              "Say Content-Type: application/json, or text/csv where a CSV is loaded and"
                  + " application/zip where an archive is.");
      case 421 ->
          of(
              "unknown-host",
              "This server does not answer to that name",
              421,
              "Name it in iron-sieve.hosts if it is one of its own.");
      case 431 ->
          of(
              "headers-too-large",
              "The headers are too large",
              431,
              "Send fewer or shorter headers.");
      case 503 -> of("unavailable", "The server cannot answer now", 503, "Try again in a moment.");
      default ->
          of(
              "status-" + status,
              "The request failed",
              status,
              status < 500
                  ? "The request cannot be answered as it is."
                  : "The server's log says more.");
    };
  }

  ProblemDocument with(List<FieldError> fieldErrors) {
    return new ProblemDocument(type, title, status, detail, fieldErrors, revision, since);
  }

  ProblemDocument with(long newest, List<Views.JournalView> entries) {
    return new ProblemDocument(type, title, status, detail, errors, newest, entries);
  }
}
