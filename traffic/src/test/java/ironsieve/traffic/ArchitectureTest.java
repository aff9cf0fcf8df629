package ironsieve.traffic;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Each package is one step from packets to tapes, and knows no later one; none knows a server. */
class ArchitectureTest {

  private static final List<String> ORDER =
      List.of("capture", "flow", "protocol", "signature", "identify", "tape", "log", "file");

  private static final JavaClasses TRAFFIC =
      new ClassFileImporter()
          .withImportOption(new ImportOption.DoNotIncludeTests())
          .importPath("target/classes");

  @Test
  void packagesHaveNoCycles() {
    slices().matching("ironsieve.traffic.(*)..").should().beFreeOfCycles().check(TRAFFIC);
  }

  @Test
  void noPackageKnowsALaterOne() {
    for (int i = 0; i < ORDER.size(); i++) {
      for (String later : ORDER.subList(i + 1, ORDER.size())) {
        noClasses()
            .that()
            .resideInAPackage("ironsieve.traffic." + ORDER.get(i))
            .should()
            .dependOnClassesThat()
            .resideInAPackage("ironsieve.traffic." + later)
            .check(TRAFFIC);
      }
    }
  }

  @Test
  void nothingKnowsAServer() {
    noClasses()
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("ironsieve.server..", "io.quarkus..", "jakarta..", "java.sql..")
        .check(TRAFFIC);
  }
}
