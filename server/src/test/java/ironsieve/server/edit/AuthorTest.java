package ironsieve.server.edit;

import static org.assertj.core.api.Assertions.assertThatNoException;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.files.FaultException;
import org.junit.jupiter.api.Test;

/** A reason is asked for only where the setting says so. */
class AuthorTest {

  @Test
  void aReasonIsRequiredOnlyWhereTheSettingSaysSo() {
    assertThatNoException().isThrownBy(() -> Author.of("ada").demandReason(false));
    assertThatNoException().isThrownBy(() -> new Author("ada", "CHG-1").demandReason(true));
    assertThatThrownBy(() -> new Author("ada", " ").demandReason(true))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("needs a reason");
  }
}
