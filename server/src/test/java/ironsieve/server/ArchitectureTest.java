package ironsieve.server;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.util.List;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** Each package uses those before it, and knows no later one. */
class ArchitectureTest {

  private static final List<String> ORDER =
      List.of(
          "clock",
          "jobs",
          "change",
          "store",
          "edit",
          "tapes",
          "sources",
          "replays",
          "releases",
          "demo",
          "api");

  private static final JavaClasses SERVER =
      new ClassFileImporter()
          .withImportOption(new ImportOption.DoNotIncludeTests())
          .importPath("target/classes");

  @Test
  void everyPackageHasItsPlaceInTheOrder() {
    assertThat(
            SERVER.stream()
                .map(JavaClass::getPackageName)
                .filter(name -> name.startsWith("ironsieve.server."))
                .collect(Collectors.toSet()))
        .containsExactlyInAnyOrderElementsOf(
            ORDER.stream().map(name -> "ironsieve.server." + name).toList());
  }

  @Test
  void packagesHaveNoCycles() {
    slices().matching("ironsieve.server.(*)..").should().beFreeOfCycles().check(SERVER);
  }

  @Test
  void noPackageKnowsALaterOne() {
    for (int i = 0; i < ORDER.size() - 1; i++) {
      String[] later =
          ORDER.subList(i + 1, ORDER.size()).stream()
              .map(name -> "ironsieve.server." + name)
              .toArray(String[]::new);
      noClasses()
          .that()
          .resideInAPackage("ironsieve.server." + ORDER.get(i))
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(later)
          .check(SERVER);
    }
  }

  @Test
  void whatChangesRecordsKnowsNoDatabase() {
    noClasses()
        .that()
        .resideInAPackage("ironsieve.server.change")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("java.sql..", "org.postgresql..")
        .check(SERVER);
  }
}
