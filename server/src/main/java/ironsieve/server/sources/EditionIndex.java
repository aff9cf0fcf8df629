package ironsieve.server.sources;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.files.FaultException;
import ironsieve.files.JsonText;
import ironsieve.progress.Progress;
import ironsieve.server.sources.Brought.Mark;
import ironsieve.server.store.Company;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.MessageDigest;
import java.security.Signature;
import java.security.spec.X509EncodedKeySpec;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Keeps editions of the catalogue that a web server lists; a person puts one in force. The list is
 * JSON: {@code {"editions": [{"number": 43, "file": "edition-43.csv", "sha256": "…", "signature":
 * "…"}]}}; a signature is of the file's bytes, by Ed25519 (RFC 8032), as base64.
 */
final class EditionIndex {

  private static final int MOST_EDITIONS = 1_000;

  private final WebFeed web;
  private final WebFeed.Access access;
  private final Company company;
  private final ObjectMapper json;

  EditionIndex(WebFeed web, WebFeed.Access access, Company company, ObjectMapper json) {
    this.web = web;
    this.access = access;
    this.company = company;
    this.json = json;
  }

  /** The list. */
  record Index(List<Listed> editions) {}

  /** One edition of it. */
  record Listed(int number, String file, String sha256, String signature) {}

  /**
   * Which editions an address lists; none of them is kept.
   *
   * @throws SourceException if the list cannot be had or read
   */
  List<Listed> listed(SourceDoc source, Progress progress) {
    return listed(
        web.read(URI.create(source.address()), access, Mark.NONE, progress).orElseThrow().text());
  }

  /**
   * Keeps the editions of the list that are not there yet.
   *
   * @return nothing if the list is still the same
   * @throws SourceException if the list or one of the editions cannot be had or is not what it
   *     should be; those before it are kept
   */
  Optional<Brought> read(SourceDoc source, Mark known, Progress progress) {
    URI address = URI.create(source.address());
    Optional<WebFeed.Page> page = web.read(address, access, known, progress);
    if (page.isEmpty()) {
      return Optional.empty();
    }
    List<Integer> came = new ArrayList<>();
    List<Listed> all = listed(page.get().text());
    List<Integer> there = company.editions();
    for (Listed one : all) {
      if (!there.contains(one.number())) {
        keep(source, address, one, progress);
        came.add(one.number());
      }
    }
    String told =
        came.isEmpty()
            ? ""
            : (came.size() == 1 ? "edition " : "editions ")
                + came.stream().map(String::valueOf).collect(Collectors.joining(", "))
                + " came; put one in force in the catalogue";
    return Optional.of(new Brought(Map.of(), List.of(), told, page.get().mark()));
  }

  private List<Listed> listed(String text) {
    Index index;
    try {
      index = JsonText.read(json, "list of editions", text, Index.class);
    } catch (FaultException e) {
      throw new SourceException(e.getMessage(), e);
    }
    if (index == null || index.editions() == null || index.editions().size() > MOST_EDITIONS) {
      throw new SourceException(
          "a list of editions is such as {\"editions\": [{\"number\": 43, \"file\":"
              + " \"edition-43.csv\", \"sha256\": \"…\"}]}, with up to "
              + MOST_EDITIONS);
    }
    for (Listed one : index.editions()) {
      if (one == null || one.number() < 1 || one.file() == null || one.sha256() == null) {
        throw new SourceException("each edition has a number from 1, a file and its sha256");
      }
    }
    return index.editions();
  }

  private void keep(SourceDoc source, URI list, Listed edition, Progress progress) {
    String what = "edition " + edition.number();
    progress.begin("reading " + what, 0);
    byte[] file;
    try {
      file =
          web.read(list.resolve(edition.file()), access, Mark.NONE, progress)
              .map(WebFeed.Page::bytes)
              .orElseThrow();
    } catch (IllegalArgumentException e) {
      throw new SourceException(what + " stands at no address: " + edition.file(), e);
    } catch (SourceException e) {
      throw new SourceException(what + ": " + e.getMessage(), e);
    }
    demandWhole(what, edition, file);
    if (!source.key().isEmpty()) {
      demandSigned(what, source.key(), edition, file);
    }
    try {
      company.loadEdition(edition.number(), new String(file, StandardCharsets.UTF_8));
    } catch (FaultException e) {
      throw new SourceException(e.getMessage(), e);
    }
  }

  private static void demandWhole(String what, Listed edition, byte[] file) {
    try {
      byte[] digest = MessageDigest.getInstance("SHA-256").digest(file);
      if (!HexFormat.of().formatHex(digest).equalsIgnoreCase(edition.sha256().trim())) {
        throw new SourceException(what + " is not what the list says: its SHA-256 is another");
      }
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has SHA-256", e);
    }
  }

  private static void demandSigned(String what, String key, Listed edition, byte[] file) {
    if (edition.signature() == null || edition.signature().isBlank()) {
      throw new SourceException(what + " is not signed, and a key is set");
    }
    try {
      Signature signature = Signature.getInstance("Ed25519");
      signature.initVerify(
          KeyFactory.getInstance("Ed25519")
              .generatePublic(new X509EncodedKeySpec(Base64.getDecoder().decode(key))));
      signature.update(file);
      if (!signature.verify(Base64.getDecoder().decode(edition.signature().trim()))) {
        throw new SourceException(what + " is not signed by whoever has the key");
      }
    } catch (GeneralSecurityException | IllegalArgumentException e) {
      throw new SourceException(what + " has a signature that cannot be read", e);
    }
  }
}
