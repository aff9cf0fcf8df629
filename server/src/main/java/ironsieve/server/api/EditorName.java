package ironsieve.server.api;

import ironsieve.files.FaultException;
import ironsieve.text.PlainText;
import jakarta.ws.rs.container.ContainerRequestContext;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import org.jboss.resteasy.reactive.server.ServerRequestFilter;

/**
 * Who edits travels in a header, and headers carry no letters beyond ASCII; so the name is percent-
 * encoded there (RFC 3986), and read here once for all.
 */
public final class EditorName {

  private static final int LONGEST = 100;

  @ServerRequestFilter
  void read(ContainerRequestContext request) {
    String raw = request.getHeaderString(RulebaseResource.EDITOR);
    if (raw == null) {
      return;
    }
    if (raw.isBlank()) {
      request.getHeaders().remove(RulebaseResource.EDITOR);
      return;
    }
    String name;
    try {
      name = URLDecoder.decode(raw.replace("+", "%2B"), StandardCharsets.UTF_8);
    } catch (IllegalArgumentException e) {
      throw new FaultException(
          "request", RulebaseResource.EDITOR, "a name is percent-encoded UTF-8 here");
    }
    PlainText.nameProblem(name, LONGEST)
        .ifPresent(
            problem -> {
              throw new FaultException("request", RulebaseResource.EDITOR, problem);
            });
    request.getHeaders().putSingle(RulebaseResource.EDITOR, name);
  }
}
