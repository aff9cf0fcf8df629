package ironsieve.server;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

class OwnDatabaseTest {

  @Test
  void onlyADatabaseMadeForTestsIsTouched() {
    assertThat(OwnDatabase.problem("ironsieve_test_api", "made by ./sieve for tests")).isEmpty();
    assertThat(OwnDatabase.problem("ironsieve", "made by ./sieve for tests"))
        .contains("the database ironsieve was not made for tests");
    assertThat(OwnDatabase.problem("ironsieve_test_api", "")).contains("was not made for tests");
  }
}
