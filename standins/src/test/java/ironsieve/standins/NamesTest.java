package ironsieve.standins;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.xbill.DNS.DClass;
import org.xbill.DNS.Message;
import org.xbill.DNS.Name;
import org.xbill.DNS.Record;
import org.xbill.DNS.Section;
import org.xbill.DNS.SimpleResolver;
import org.xbill.DNS.Type;

/** The stand-in of a name server answers over UDP, and over TCP what is too long for it. */
class NamesTest {

  @Test
  void anAnswerThatIsTooLongComesOverTcp() throws Exception {
    String many =
        IntStream.range(1, 200).mapToObj(i -> "203.0.113." + i).collect(Collectors.joining("; "));
    try (NameStandIn server =
        new NameStandIn(0, "host,addresses,seconds\nmany.example," + many + ",60\n")) {
      SimpleResolver resolver = new SimpleResolver("127.0.0.1");
      resolver.setPort(server.port());
      Message question =
          Message.newQuery(Record.newRecord(Name.fromString("many.example."), Type.A, DClass.IN));
      assertThat(resolver.send(question).getSection(Section.ANSWER)).hasSize(199);
    }
  }
}
