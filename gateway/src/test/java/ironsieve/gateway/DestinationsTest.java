package ironsieve.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.net.InetSocketAddress;
import java.util.List;
import org.junit.jupiter.api.Test;

/** A client gets to the stand-ins and nowhere else. */
class DestinationsTest {

  private static InetSocketAddress loopback(int port) {
    return new InetSocketAddress("127.0.0.1", port);
  }

  @Test
  void aPortHasItsStandInAndTheOthersHaveTheOneForAllOrNone() {
    Destinations some = new Destinations(List.of("80=8080", "443=8443"));
    assertThat(some.of(new Target("page.example", 80))).contains(loopback(8080));
    assertThat(some.of(new Target("10.0.0.1", 443))).contains(loopback(8443));
    assertThat(some.of(new Target("127.0.0.1", 5432))).isEmpty();
    Destinations all = new Destinations(List.of("9000", "443=8443"));
    assertThat(all.of(new Target("page.example", 25))).contains(loopback(9000));
    assertThat(all.of(new Target("page.example", 443))).contains(loopback(8443));
  }

  @Test
  void whatIsNeitherIsRefusedInWords() {
    for (String text : List.of("", "page.example", "80=", "=80", "80=page:80")) {
      assertThatThrownBy(() -> new Destinations(List.of(text)))
          .isInstanceOf(IllegalArgumentException.class)
          .hasMessageContaining("PORT=PORT");
    }
  }
}
