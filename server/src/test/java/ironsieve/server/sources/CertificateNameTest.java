package ironsieve.server.sources;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** A certificate is for the name that was asked for, and for no other. */
class CertificateNameTest {

  private static boolean isFor(String host, Object... names) {
    java.util.Collection<List<?>> all = new java.util.ArrayList<>();
    for (int i = 0; i < names.length; i += 2) {
      all.add(List.of(names[i], names[i + 1]));
    }
    return CertificateName.isFor(host, Optional.of(all));
  }

  @Test
  void namesAreComparedWithoutCaseAndAStarIsOneLabel() {
    assertThat(isFor("Directory.Quay.example", 2, "directory.quay.example")).isTrue();
    assertThat(isFor("directory.quay.example", 2, "other.example", 2, "*.quay.example")).isTrue();
    assertThat(isFor("a.b.quay.example", 2, "*.quay.example")).isFalse();
    assertThat(isFor("quay.example", 2, "*.quay.example")).isFalse();
    assertThat(isFor("evilquay.example", 2, "quay.example")).isFalse();
  }

  @Test
  void anAddressIsNoName() {
    assertThat(isFor("192.0.2.7", 7, "192.0.2.7")).isTrue();
    assertThat(isFor("[2001:db8::7]", 7, "2001:db8:0:0:0:0:0:7")).isTrue();
    assertThat(isFor("192.0.2.7", 2, "192.0.2.7")).isFalse();
    assertThat(isFor("192.0.2.7", 2, "*.0.2.7")).isFalse();
    assertThat(CertificateName.isFor("directory.example", Optional.empty())).isFalse();
  }
}
