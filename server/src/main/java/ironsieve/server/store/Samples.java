package ironsieve.server.store;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.FaultException;
import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Unit;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;

/** What connections showed, as gzipped JSON. */
public final class Samples {

  private static final ObjectMapper JSON = new ObjectMapper();

  private Samples() {}

  /** A fact; the value of bytes in base 64. */
  record FactDoc(String f, String h, String v) {}

  /** What one connection showed, with one request of it. */
  record UnitDoc(
      int service,
      String server,
      List<FactDoc> facts,
      List<FactDoc> request,
      List<Integer> up,
      List<Integer> down,
      boolean opened) {}

  /** The samples as they are kept. */
  public static byte[] format(List<Unit> units) {
    try {
      return packed(JSON.writeValueAsString(units.stream().map(Samples::doc).toList()));
    } catch (IOException e) {
      throw new UncheckedIOException("writing to memory", e);
    }
  }

  /** Kept samples as the text that an archive has. */
  public static String text(byte[] kept) {
    try (GZIPInputStream in = new GZIPInputStream(new ByteArrayInputStream(kept))) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new UncheckedIOException("samples that this server has written", e);
    }
  }

  /**
   * The text of an archive as it is kept.
   *
   * @throws ironsieve.files.FaultException if it is none
   */
  public static byte[] ofText(String file, String text) {
    byte[] kept = packed(text);
    try {
      read(kept);
    } catch (UncheckedIOException | IllegalArgumentException | NullPointerException e) {
      throw new FaultException(file, "", "these are no samples of a tape: " + e.getMessage());
    }
    return kept;
  }

  private static byte[] packed(String text) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (GZIPOutputStream zipped = new GZIPOutputStream(out)) {
      zipped.write(text.getBytes(StandardCharsets.UTF_8));
    } catch (IOException e) {
      throw new UncheckedIOException("writing to memory", e);
    }
    return out.toByteArray();
  }

  /** Samples that were kept; none for nothing. */
  public static List<Unit> read(byte[] kept) {
    if (kept == null || kept.length == 0) {
      return List.of();
    }
    try (GZIPInputStream in = new GZIPInputStream(new ByteArrayInputStream(kept))) {
      List<UnitDoc> docs = JSON.readValue(in, new TypeReference<>() {});
      return docs.stream().map(Samples::unit).toList();
    } catch (IOException e) {
      throw new UncheckedIOException("samples that this server has written", e);
    }
  }

  /** The sentences that were kept with a tape. */
  public static List<String> notes(String made) {
    try {
      List<String> told = new ArrayList<>();
      JSON.readTree(made).path("told").forEach(sentence -> told.add(sentence.asText()));
      return told;
    } catch (IOException e) {
      throw new UncheckedIOException("what this server has written", e);
    }
  }

  private static UnitDoc doc(Unit unit) {
    ConnectionFacts shown = unit.shown();
    return new UnitDoc(
        shown.service().number(),
        shown.server().toString(),
        shown.facts().stream().map(Samples::doc).toList(),
        unit.request().stream().map(Samples::doc).toList(),
        sizes(shown, true),
        sizes(shown, false),
        shown.isOpened());
  }

  private static List<Integer> sizes(ConnectionFacts shown, boolean byClient) {
    List<Integer> sizes = new ArrayList<>();
    for (int number = 1; number <= shown.sizes(byClient); number++) {
      sizes.add(shown.size(byClient, number));
    }
    return sizes;
  }

  private static FactDoc doc(Fact fact) {
    boolean isBytes = fact.field().kind() == Field.Kind.BYTES;
    return new FactDoc(
        fact.field().name(),
        fact.header().isEmpty() ? null : fact.header(),
        isBytes ? Base64.getEncoder().encodeToString(fact.value()) : fact.text());
  }

  private static Unit unit(UnitDoc doc) {
    ConnectionFacts shown =
        ConnectionFacts.again(
            Service.ofNumber(doc.service()), Address.parse(doc.server()), doc.opened());
    doc.facts().forEach(fact -> shown.add(fact(fact)));
    doc.up().forEach(size -> shown.sized(true, size));
    doc.down().forEach(size -> shown.sized(false, size));
    return new Unit(shown, doc.request().stream().map(Samples::fact).toList());
  }

  private static Fact fact(FactDoc doc) {
    Field field = Field.valueOf(doc.f());
    if (field.kind() == Field.Kind.BYTES) {
      return Fact.bytes(field, Base64.getDecoder().decode(doc.v()));
    }
    return field == Field.HEADER ? Fact.header(doc.h(), doc.v()) : Fact.of(field, doc.v());
  }
}
