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
   * @param position where in a text, in characters from its beginning; null if that says nothing
   */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record FieldError(String place, String field, String message, Integer position) {}

  static ProblemDocument of(String type, String title, int status, String detail) {
    return new ProblemDocument("/problems/" + type, title, status, detail, null, null, null);
  }

  ProblemDocument with(List<FieldError> fieldErrors) {
    return new ProblemDocument(type, title, status, detail, fieldErrors, revision, since);
  }

  ProblemDocument with(long newest, List<Views.JournalView> entries) {
    return new ProblemDocument(type, title, status, detail, errors, newest, entries);
  }
}
