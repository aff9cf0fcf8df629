package ironsieve.server.api;

import ironsieve.files.FaultException;
import jakarta.ws.rs.container.ContainerRequestContext;
import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.MalformedInputException;
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
      name = decoded(raw);
    } catch (CharacterCodingException e) {
      throw new FaultException(
          "request", RulebaseResource.EDITOR, "a name is percent-encoded UTF-8 here");
    }
    FaultException.demandName("request", RulebaseResource.EDITOR, name, LONGEST);
    request.getHeaders().putSingle(RulebaseResource.EDITOR, name);
  }

  /**
   * Percent-encoded UTF-8 as text.
   *
   * @throws CharacterCodingException if a percent sign is no code, or the bytes are not UTF-8
   */
  static String decoded(String text) throws CharacterCodingException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream(text.length());
    for (int at = 0; at < text.length(); at++) {
      char c = text.charAt(at);
      if (c != '%') {
        bytes.writeBytes(String.valueOf(c).getBytes(StandardCharsets.UTF_8));
        continue;
      }
      int high = at + 2 <= text.length() - 1 ? Character.digit(text.charAt(at + 1), 16) : -1;
      int low = at + 2 <= text.length() - 1 ? Character.digit(text.charAt(at + 2), 16) : -1;
      if (high < 0 || low < 0) {
        throw new MalformedInputException(at);
      }
      bytes.write(high << 4 | low);
      at += 2;
    }
    return StandardCharsets.UTF_8
        .newDecoder()
        .decode(ByteBuffer.wrap(bytes.toByteArray()))
        .toString();
  }
}
