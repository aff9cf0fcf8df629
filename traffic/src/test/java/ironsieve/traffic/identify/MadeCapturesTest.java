package ironsieve.traffic.identify;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.traffic.DemoSignatures;
import ironsieve.traffic.make.CaptureMaker;
import ironsieve.traffic.protocol.KeyLog;
import ironsieve.traffic.signature.Signature;
import ironsieve.traffic.signature.SignatureBook;
import ironsieve.traffic.signature.Unit;
import ironsieve.traffic.signature.Witness;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;

/**
 * For every signature of the demo a connection is written as packets, and read back as what it is.
 */
class MadeCapturesTest {

  private static final Address CLIENT = Address.parse("10.20.0.10");
  private static final Address CLIENT_6 = Address.parse("2001:db8:20::a");

  private static byte[] capture(List<CaptureMaker.Plan> plans) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    CaptureMaker.write(out, plans, 7);
    return out.toByteArray();
  }

  private static List<Seen> read(byte[] capture, SignatureBook book) throws IOException {
    List<Seen> seen = new ArrayList<>();
    CaptureConnections.read(
        new ByteArrayInputStream(capture), book.matcher(), new KeyLog(), seen::add, () -> false);
    return seen;
  }

  private static Service service(Unit unit, ApplicationDoc doc, boolean isQuic) {
    boolean saysPort = !unit.shown().service().equals(new Service(Service.TCP, 443));
    if (isQuic) {
      return new Service(Service.UDP, 443);
    }
    if (saysPort || doc.usualPorts().isEmpty()) {
      return unit.shown().service();
    }
    String first = doc.usualPorts().get(0);
    return ((ironsieve.model.Value.ServiceRange)
            ironsieve.text.ValueText.parse(ironsieve.model.ValueKind.SERVICE, first))
        .low();
  }

  @Test
  void everySignatureIsRecognisedOnTheWire() throws IOException {
    SignatureBook book = DemoSignatures.book(42);
    Map<String, ApplicationDoc> docs = new HashMap<>();
    DemoSignatures.applications(42).forEach(doc -> docs.put(doc.name(), doc));
    Map<Integer, String> wanted = new HashMap<>();
    List<CaptureMaker.Plan> plans = new ArrayList<>();
    for (Signature signature : book.signatures()) {
      Signature application =
          book.signatures().stream()
              .filter(one -> one.application().equals(signature.application()))
              .findFirst()
              .orElseThrow();
      Optional<Unit> unit =
          signature.feature().isEmpty()
              ? Witness.of(signature, Optional.empty())
              : Witness.of(application, Optional.of(signature));
      assertThat(unit).as(signature.toString()).isPresent();
      ApplicationDoc doc = docs.get(signature.application());
      boolean isQuic = signature.application().equals("QUIC");
      Service service = service(unit.get(), doc, isQuic);
      boolean isIcmp6 = service.protocol() == Service.ICMPV6;
      int port = 20_000 + plans.size();
      plans.add(
          new CaptureMaker.Plan(
              1_000_000_000L * plans.size(),
              isIcmp6 ? CLIENT_6 : new Address(CLIENT.version(), 0, CLIENT.low() + plans.size()),
              port,
              isIcmp6 ? Address.parse("2001:db8:ffff::10") : unit.get().shown().server(),
              service,
              List.of(unit.get()),
              true,
              100));
      wanted.put(port, signature.recognises());
    }
    Map<String, String> wrong = new HashMap<>();
    TreeSet<String> right = new TreeSet<>();
    List<Seen> all = read(capture(plans), book);
    assertThat(all).hasSize(plans.size());
    for (Seen seen : all) {
      int number = (int) seen.first().getEpochSecond();
      String signature = wanted.get(20_000 + number);
      List<String> uses =
          seen.uses().stream()
              .map(
                  use ->
                      use.application().orElse("")
                          + use.feature().map(feature -> "/" + feature).orElse(""))
              .toList();
      boolean isRight =
          uses.contains(signature)
              // Who sees the bytes of an application may see one of its features in them too.
              || !signature.contains("/") && uses.get(0).startsWith(signature + "/");
      if (isRight) {
        right.add(signature);
      } else {
        wrong.put(signature, uses + " " + seen.shown().facts());
      }
    }
    // What is asked for inside QUIC is not opened.
    assertThat(wrong.keySet()).isSubsetOf("Swarmfin/download", "Swarmfin/seed");
    assertThat(right).hasSizeGreaterThan(800);
  }

  @Test
  void withoutItsSecretsTheSameConnectionShowsItsNameAndNoFeature() throws IOException {
    SignatureBook book = DemoSignatures.book(42);
    Signature application = signature(book, "Chatterbay", "");
    Signature feature =
        book.signatures().stream()
            .filter(one -> one.application().equals("Chatterbay") && one.feature().isPresent())
            .findFirst()
            .orElseThrow();
    Unit unit = Witness.of(application, Optional.of(feature)).orElseThrow();
    for (boolean isOpened : new boolean[] {true, false}) {
      CaptureMaker.Plan plan =
          new CaptureMaker.Plan(
              0,
              CLIENT,
              40_000,
              unit.shown().server(),
              new Service(Service.TCP, 443),
              List.of(unit),
              isOpened,
              50_000);
      Seen seen = read(capture(List.of(plan)), book).get(0);
      assertThat(seen.shown().isOpened()).isEqualTo(isOpened);
      assertThat(seen.host()).contains("www.chatterbay.example");
      assertThat(seen.uses()).hasSize(1);
      assertThat(seen.uses().get(0).application()).contains("Chatterbay");
      assertThat(seen.uses().get(0).carrier()).contains("TLS");
      assertThat(seen.uses().get(0).feature())
          .isEqualTo(isOpened ? feature.feature() : Optional.empty());
      assertThat(seen.volume().octetsDown()).isGreaterThan(50_000);
    }
  }

  private static Signature signature(SignatureBook book, String application, String feature) {
    return book.signatures().stream()
        .filter(one -> one.application().equals(application))
        .filter(one -> one.feature().orElse("").equals(feature))
        .findFirst()
        .orElseThrow();
  }
}
