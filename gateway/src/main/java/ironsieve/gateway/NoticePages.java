package ironsieve.gateway;

import ironsieve.gateway.Policy.Decision;
import ironsieve.model.Notice;
import ironsieve.model.Rule;
import ironsieve.model.Verdict;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Field;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The pages that people are shown in place of what they asked for: plain HTML without scripts, with
 * nothing in it that is not about them, and every foreign text escaped.
 */
final class NoticePages {

  /** Requests below it are answered by the gateway, whatever host they name. */
  private static final Pattern GO_ON = Pattern.compile("/\\.iron-sieve/go-on/([0-9a-f]{32})(/.*)");

  private static final String STYLE =
      "body{font:17px/1.5 system-ui,sans-serif;margin:12vh auto;max-width:34em;padding:0 1em;"
          + "color:#1c2326;background:#f6f4ef}h1{font-size:1.4em}"
          + "dl{border-top:1px solid #b9b5aa;padding-top:1em;font-size:.85em}dt{color:#666}"
          + "dd{margin:0 0 .6em}button{font:inherit;padding:.5em 1.2em}";

  private final Consents consents;

  NoticePages(Consents consents) {
    this.consents = consents;
  }

  /**
   * The answer to a request that goes no further.
   *
   * @return an answer of HTTP/1.1 that ends its connection
   */
  byte[] answer(Policy policy, Client client, Decision decision, ConnectionFacts.Request request) {
    String path = request.first(Field.PATH).orElse("/");
    Matcher goOn = GO_ON.matcher(path);
    if (goOn.matches() && consents.take(client, goOn.group(1))) {
      return response("303 See Other", "Location: " + inside(goOn.group(2)) + "\r\n", "");
    }
    // What was offered and is not any more is asked again, for the page it was about.
    String back = goOn.matches() ? goOn.group(2) : path;
    return response("403 Forbidden", "", page(policy, client, decision, back));
  }

  /** Back to the same host, whatever was asked for. */
  private static String inside(String path) {
    return "/" + path.replaceFirst("^/+", "");
  }

  private static byte[] response(String status, String headers, String body) {
    byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
    String head =
        "HTTP/1.1 "
            + status
            + "\r\n"
            + headers
            + "Content-Type: text/html; charset=utf-8\r\nContent-Length: "
            + bytes.length
            + "\r\nCache-Control: no-store\r\nConnection: close\r\n"
            + "Content-Security-Policy: default-src 'none'; style-src 'unsafe-inline';"
            + " form-action 'self'\r\n\r\n";
    return (head + body).getBytes(StandardCharsets.UTF_8);
  }

  private String page(Policy policy, Client client, Decision decision, String back) {
    Optional<Notice> notice = decision.outcome().flatMap(policy::notice);
    String title =
        switch (decision.verdict()) {
          case ASK -> "Go on?";
          case ENROL -> "This device has to be put in order first";
          default -> "This page is not let through";
        };
    StringBuilder html = new StringBuilder("<!doctype html><html lang=\"en\"><head>");
    html.append("<meta charset=\"utf-8\"><title>").append(title).append("</title><style>");
    html.append(STYLE).append("</style></head><body><h1>").append(title).append("</h1><p>");
    html.append(escape(notice.map(Notice::text).orElse(""))).append("</p>");
    if (decision.verdict() == Verdict.ASK) {
      html.append("<form method=\"post\" action=\"/.iron-sieve/go-on/")
          .append(consents.offer(client, decision))
          .append(escape(inside(back)))
          .append("\"><button>Go on</button> <small>for the next ")
          .append(Consents.LASTS.toHours())
          .append(" hours</small></form>");
    }
    html.append("<dl>");
    line(
        html,
        "You are",
        client.person().flatMap(policy::person).map(one -> one.name()).orElse("nobody signed in"));
    line(
        html,
        "You asked for",
        decision.connection().to().host().orElse(decision.connection().to().address().toString()));
    line(html, "Decided by", decision.rule().map(Rule::name).orElse("the default verdict"));
    decision
        .rule()
        .map(rule -> rule.metadata().note())
        .filter(note -> !note.isBlank())
        .ifPresent(note -> line(html, "Because", note));
    decision
        .rule()
        .map(rule -> rule.metadata().owner())
        .filter(owner -> !owner.isBlank())
        .ifPresent(
            owner -> line(html, "Ask", policy.person(owner).map(one -> one.name()).orElse(owner)));
    return html.append("</dl></body></html>").toString();
  }

  private static void line(StringBuilder html, String what, String value) {
    html.append("<dt>").append(what).append("</dt><dd>").append(escape(value)).append("</dd>");
  }

  private static String escape(String text) {
    return text.replace("&", "&amp;")
        .replace("<", "&lt;")
        .replace(">", "&gt;")
        .replace("\"", "&quot;")
        .replace("'", "&#39;");
  }
}
