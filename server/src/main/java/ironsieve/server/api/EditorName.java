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
 * Who edits and why travel in headers, and headers carry no letters beyond ASCII; so both are
 * percent-encoded there (RFC 3986), and read here once for all.
 */
public final class EditorName {

  private static final int LONGEST = 100;
  private static final int LONGEST_REASON = 200;

  @ServerRequestFilter
  void read(ContainerRequestContext request) {
    read(request, RulebaseResource.EDITOR, LONGEST);
    read(request, RulebaseResource.REASON, LONGEST_REASON);
  }

  private static void read(ContainerRequestContext request, String header, int longest) {
    String raw = request.getHeaderString(header);
    if (raw == null) {
      return;
    }
    if (raw.isBlank()) {
      request.getHeaders().remove(header);
      return;
    }
    String text;
    try {
      text = decoded(raw);
    } catch (CharacterCodingException e) {
      throw new FaultException("request", header, "this is percent-encoded UTF-8");
    }
    FaultException.demandName("request", header, text, longest);
    request.getHeaders().putSingle(header, text);
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
