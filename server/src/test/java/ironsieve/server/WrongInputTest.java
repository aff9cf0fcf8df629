package ironsieve.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.common.http.TestHTTPResource;
import io.quarkus.test.junit.QuarkusTest;
import jakarta.inject.Inject;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/**
 * Asks every address in the API's description for things it cannot give: whatever goes wrong is
 * told as a problem document (RFC 9457) that says what, and never as a fault of the server.
 */
@QuarkusTest
class WrongInputTest {

  private static final ObjectMapper JSON = new ObjectMapper();

  private final HttpClient client =
      HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();

  @Inject DemoData demo;

  @TestHTTPResource("/")
  URI address;

  private int asked;
  private int refused;

  private static JsonNode description() throws Exception {
    return JSON.readTree(Files.readString(Path.of("../docs/openapi.json")));
  }

  @Test
  void whateverIsWrongIsToldAsAProblem() throws Exception {
    demo.restore();
    JsonNode api = description();
    for (Map.Entry<String, JsonNode> path : api.get("paths").properties()) {
      for (Map.Entry<String, JsonNode> method : path.getValue().properties()) {
        if (method.getValue().at("/responses/200/content").has("text/event-stream")) {
          // It never ends, whatever is asked; ChangesApiTest listens to it.
          continue;
        }
        ask(api, path.getKey(), method.getKey(), method.getValue());
      }
    }
    assertThat(asked).isGreaterThan(800);
    assertThat(refused).isGreaterThan(asked / 2);
    HttpRequest whole =
        HttpRequest.newBuilder(address.resolve("/api/rulebases/main-gateway")).build();
    JsonNode untouched =
        JSON.readTree(client.send(whole, HttpResponse.BodyHandlers.ofString()).body());
    assertThat(untouched.get("faults")).isEmpty();
  }

  /** Records of every kind with nothing in them, and uploads of a few bytes. */
  /** Whoever makes a client of the description has to be able to say everything a path names. */
  @Test
  void everyPathDescribesWhatStandsInIt() throws Exception {
    for (Map.Entry<String, JsonNode> path : description().get("paths").properties()) {
      List<String> named =
          Pattern.compile("\\{([^}]*)}")
              .matcher(path.getKey())
              .results()
              .map(found -> found.group(1))
              .toList();
      for (Map.Entry<String, JsonNode> method : path.getValue().properties()) {
        List<String> described = new ArrayList<>();
        for (JsonNode parameter : method.getValue().path("parameters")) {
          if (parameter.path("in").asText().equals("path")) {
            described.add(parameter.path("name").asText());
          }
        }
        assertThat(described)
            .as("%s %s", method.getKey(), path.getKey())
            .containsExactlyInAnyOrderElementsOf(named);
      }
    }
  }

  @Test
  void whatIsEmptyOrCutOffIsToldAsAProblem() throws Exception {
    demo.restore();
    for (ironsieve.files.WorkspaceKind kind : ironsieve.files.WorkspaceKind.values()) {
      for (String doc :
          List.of("{}", "{\"name\": null}", "{\"names\": \"\"}", "{\"host\": \"\"}")) {
        String step = "{\"op\": \"PUT\", \"kind\": \"" + kind.word() + "\", \"doc\": " + doc + "}";
        String body = "{\"version\": %d, \"what\": \"x\", \"steps\": [" + step + "]}";
        HttpResponse<String> answer =
            post("POST", "/api/workspace/changes", body.formatted(version()), "application/json");
        assertThat(answer.statusCode()).as(step).isLessThan(500);
      }
    }
    for (int bytes : new int[] {0, 1, 2, 3, 4, 15, 16, 23}) {
      for (String path : List.of("tapes/x", "tapes/look")) {
        HttpResponse<String> answer =
            post(
                path.endsWith("look") ? "POST" : "PUT",
                "/api/rulebases/main-gateway/" + path,
                "a".repeat(bytes),
                "application/octet-stream");
        assertThat(answer.statusCode()).as("%d bytes to %s", bytes, path).isLessThan(500);
      }
    }
  }

  private long version() throws Exception {
    HttpRequest asked = HttpRequest.newBuilder(address.resolve("/api/workspace")).build();
    return JSON.readTree(client.send(asked, HttpResponse.BodyHandlers.ofString()).body())
        .get("version")
        .asLong();
  }

  private HttpResponse<String> post(String method, String path, String body, String type)
      throws Exception {
    return client.send(
        HttpRequest.newBuilder(address.resolve(path))
            .header("Content-Type", type)
            .method(method, HttpRequest.BodyPublishers.ofString(body))
            .build(),
        HttpResponse.BodyHandlers.ofString());
  }

  private void ask(JsonNode api, String path, String method, JsonNode operation) throws Exception {
    List<String> paths = new ArrayList<>();
    paths.add(filled(path, "main-gateway"));
    for (String odd :
        List.of(
            "nothing",
            "%00",
            "%2E%2E",
            "-1",
            "9999999999999999999999",
            "%F0%9F",
            "a".repeat(3_000),
            "a".repeat(9_000))) {
      paths.add(filled(path, odd));
    }
    for (String parameter : parameters(operation)) {
      for (String odd : List.of("", "x", "99999999999999999999", "%00")) {
        paths.add(filled(path, "main-gateway") + "?" + parameter + "=" + odd);
      }
    }
    String type =
        operation.at("/requestBody/content").properties().stream()
            .map(Map.Entry::getKey)
            .findFirst()
            .orElse("application/json");
    List<String> bodies = bodies(api, operation, type);
    for (String one : paths) {
      send(method, one, type, method.matches("get|delete") ? null : bodies.get(0));
    }
    if (!method.matches("get|delete")) {
      for (String body : bodies) {
        send(method, paths.get(0), type, body);
      }
      send(method, paths.get(0), null, bodies.get(0));
      send(method, paths.get(0), "application/xml", "<x/>");
    }
    send("patch", paths.get(0), "application/json", "{}");
    answered(
        HttpRequest.newBuilder(URI.create(root() + paths.get(0)))
            .header("Accept", "image/png")
            .build(),
        "accept " + path);
  }

  private static String filled(String path, String value) {
    return path.replace("{id}", value)
        .replace("{rule}", value.equals("main-gateway") ? "gw-admin" : value)
        .replaceAll("\\{action[^}]*}", value.equals("main-gateway") ? "undo" : value)
        .replaceAll("\\{[^}]+}", value.equals("main-gateway") ? "42" : value);
  }

  private static List<String> parameters(JsonNode operation) {
    List<String> names = new ArrayList<>();
    operation
        .path("parameters")
        .forEach(
            p -> {
              if (p.path("in").asText().equals("query")) {
                names.add(p.get("name").asText());
              }
            });
    return names;
  }

  /** Bodies that are nearly right: each member of another kind, missing, null, twice or unknown. */
  private static List<String> bodies(JsonNode api, JsonNode operation, String type)
      throws Exception {
    List<String> bodies = new ArrayList<>();
    if (!type.equals("application/json")) {
      bodies.addAll(
          List.of(
              "",
              "a",
              "name,probe,verdict\n\"x",
              "times,connection\n=1,2\n",
              "\u0000",
              "name,probe,verdict\nA,B\n",
              "name,name\nA,B\n",
              "\uFEFFtimes,connection\n1,x at 2026-11-02 09:30\n"));
      return bodies;
    }
    JsonNode schema = operation.at("/requestBody/content/application~1json/schema");
    Map<String, Object> right =
        example(api, schema, 0) instanceof Map<?, ?> map ? copy(map) : Map.of();
    for (Object wrong : new Object[] {Map.of(), List.of(), "x", 7, true, List.of(List.of())}) {
      bodies.add(JSON.writeValueAsString(wrong));
    }
    bodies.addAll(
        List.of(
            "",
            "null",
            "{",
            "[",
            "{nonsense",
            "{\"a\":1}{\"b\":2}",
            "[".repeat(5_000),
            "\"\\u0000\"",
            "{\"text\": \"\\u0000\"}",
            "{\"text\": \"\\ud800\"}",
            "{\"steps\": null}",
            "{\"steps\": [null]}",
            "{\"steps\": [{\"op\": null}]}",
            "{\"revision\": 1e400}",
            "{\"revision\": null}",
            "{\"revision\": 0, \"revision\": 1}"));
    for (String key : right.keySet()) {
      for (Object wrong :
          new Object[] {
            null, "x", -1, 1.5, List.of(), Map.of("a", 1), List.of("x", 7), List.of(Map.of())
          }) {
        Map<String, Object> changed = new LinkedHashMap<>(right);
        changed.put(key, wrong);
        bodies.add(JSON.writeValueAsString(changed));
      }
    }
    Map<String, Object> more = new LinkedHashMap<>(right);
    more.put("surprise", 1);
    bodies.add(JSON.writeValueAsString(more));
    for (String op : right.containsKey("steps") ? ops(api) : List.<String>of()) {
      for (String rest :
          List.of(
              "",
              ", \"id\": \"gw-admin\"",
              ", \"id\": \"gw-admin\", \"rule\": {\"fields\": {\"from.zones\": null, \"no.field\": {\"values\": [\"x\"]}}}",
              ", \"id\": \"a b\", \"place\": {\"after\": \"nothing\"}, \"rule\": {\"fields\": {\"from.zones\": {\"sense\": \"maybe\", \"values\": [null]}}}",
              ", \"set\": {}, \"rule\": {}, \"kind\": 7",
              ", \"set\": {\"kind\": \"moon\", \"name\": \"x\", \"values\": [\"y\", null]}, \"oldName\": []",
              ", \"part\": {}, \"partKind\": \"lane\"",
              ", \"part\": {\"name\": \"x\", \"scope\": 7}, \"partKind\": \"lane\"",
              ", \"part\": {\"x\": 1}, \"partKind\": \"tower\"",
              ", \"part\": {\"name\": \"x\"}",
              ", \"promise\": {\"name\": 7}, \"verdict\": null",
              ", \"set\": {\"set\": {}}, \"text\": {}, \"promise\": {}, \"acceptance\": {}, \"part\": {}, \"partKind\": \"lane\"",
              ", \"text\": {\"title\": \"\"}, \"promise\": {}, \"verdict\": \"maybe\"")) {
        bodies.add(
            "{\"revision\": 99, \"what\": \"w\", \"steps\": [{\"op\": \""
                + op
                + "\""
                + rest
                + "}]}");
      }
    }
    return bodies;
  }

  private static List<String> ops(JsonNode api) {
    List<String> ops = new ArrayList<>();
    api.at("/components/schemas/RulebaseStep/discriminator/mapping")
        .fieldNames()
        .forEachRemaining(ops::add);
    assertThat(ops).hasSizeGreaterThan(10);
    return ops;
  }

  private static Map<String, Object> copy(Map<?, ?> map) {
    Map<String, Object> copied = new LinkedHashMap<>();
    map.forEach((key, value) -> copied.put(String.valueOf(key), value));
    return copied;
  }

  private static Object example(JsonNode api, JsonNode schema, int depth) {
    JsonNode meant = schema.has("$ref") ? api.at(schema.get("$ref").asText().substring(1)) : schema;
    if (meant.has("properties") && depth < 3) {
      Map<String, Object> map = new LinkedHashMap<>();
      meant
          .get("properties")
          .properties()
          .forEach(p -> map.put(p.getKey(), example(api, p.getValue(), depth + 1)));
      return map;
    }
    return switch (meant.path("type").asText()) {
      case "integer" -> 99;
      case "array" -> List.of();
      case "boolean" -> false;
      default -> "x";
    };
  }

  private void send(String method, String path, String type, String body) throws Exception {
    HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(root() + path));
    if (type != null) {
      request.header("Content-Type", type);
    }
    request.method(
        method.toUpperCase(Locale.ROOT),
        body == null
            ? HttpRequest.BodyPublishers.noBody()
            : HttpRequest.BodyPublishers.ofString(body));
    answered(request.build(), method + " " + path + " " + body);
  }

  private String root() {
    return address.toString().replaceFirst("/$", "");
  }

  private void answered(HttpRequest request, String what) throws Exception {
    asked++;
    String shown = what.length() > 300 ? what.substring(0, 300) : what;
    HttpResponse<String> response;
    try {
      response = client.send(request, HttpResponse.BodyHandlers.ofString());
    } catch (IOException e) {
      throw new AssertionError(shown + " got no answer", e);
    }
    String text = response.body();
    assertThat(response.statusCode()).as("%s: %s", shown, text).isBetween(200, 499);
    if (response.statusCode() >= 400) {
      refused++;
      assertThat(response.headers().firstValue("Content-Type").orElse(""))
          .as("%s: %s", shown, text)
          .startsWith("application/problem+json");
      assertThat(text.length()).as(shown).isLessThan(50_000);
      JsonNode problem = JSON.readTree(text);
      assertThat(problem.path("title").asText()).as(shown).isNotBlank();
      assertThat(problem.path("detail").asText()).as(shown).isNotBlank();
      assertThat(problem.path("status").asInt()).as(shown).isEqualTo(response.statusCode());
      assertThat(text)
          .as(shown)
          .doesNotContain("ironsieve.")
          .doesNotContain("java.")
          .doesNotContain("com.fasterxml")
          .doesNotContain("Exception");
    }
  }
}
