package ironsieve.server.api;

import jakarta.ws.rs.container.ContainerRequestContext;
import jakarta.ws.rs.container.ContainerResponseContext;
import jakarta.ws.rs.container.ContainerResponseFilter;
import jakarta.ws.rs.ext.Provider;

/**
 * Puts a byte order mark before a CSV where {@code mark=true} asks for it: spreadsheets take a file
 * without one for their own system's letters, and show every accent as two strange signs.
 */
@Provider
public class SpreadsheetMark implements ContainerResponseFilter {

  private static final String MARK = "\uFEFF";

  @Override
  public void filter(ContainerRequestContext asked, ContainerResponseContext answer) {
    var said = asked.getUriInfo().getQueryParameters();
    boolean isCsv =
        (answer.getMediaType() != null && answer.getMediaType().getSubtype().equals("csv"))
            || "csv".equals(said.getFirst("format"));
    if (isCsv
        && "true".equals(said.getFirst("mark"))
        && answer.getStatus() == 200
        && answer.getEntity() instanceof String text) {
      answer.setEntity(MARK + text);
    }
  }
}
