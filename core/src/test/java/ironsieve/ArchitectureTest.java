package ironsieve;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

/**
 * The core stays a core: no framework, no cycle, and each package imports only what comes before
 * it.
 */
class ArchitectureTest {

  private static final JavaClasses CORE =
      new ClassFileImporter()
          .withImportOption(new ImportOption.DoNotIncludeTests())
          .importPath("target/classes");

  @Test
  void theCoreKnowsNoFramework() {
    classes()
        .should()
        .onlyDependOnClassesThat()
        .resideInAnyPackage(
            "ironsieve..",
            "java.lang..",
            "java.util..",
            "java.math..",
            // Text out of bytes; nothing of files or channels.
            "java.nio",
            "java.nio.charset",
            "java.time..",
            "inet.ipaddr..")
        .check(CORE);
  }

  @Test
  void packagesHaveNoCycles() {
    slices().matching("ironsieve.(*)..").should().beFreeOfCycles().check(CORE);
  }

  @Test
  void eachPackageImportsOnlyEarlierOnes() {
    onlyUses("progress", "progress");
    onlyUses("region", "region");
    onlyUses("model", "model", "region");
    onlyUses("text", "text", "model", "region");
    onlyUses("compile", "progress", "compile", "text", "model", "region");
    onlyUses("decide", "progress", "decide", "compile", "text", "model", "region");
    onlyUses("impact", "progress", "impact", "compile", "text", "model", "region");
    onlyUses("recorded", "progress", "recorded", "compile", "model", "region");
    onlyUses(
        "review", "progress", "review", "recorded", "decide", "compile", "text", "model", "region");
    onlyUses("reach", "progress", "reach", "impact", "compile", "text", "model", "region");
  }

  private void onlyUses(String name, String... allowed) {
    String[] packages = new String[allowed.length];
    for (int i = 0; i < allowed.length; i++) {
      packages[i] = "ironsieve." + allowed[i] + "..";
    }
    noClasses()
        .that()
        .resideInAPackage("ironsieve." + name + "..")
        .should()
        .dependOnClassesThat(
            com.tngtech.archunit.base.DescribedPredicate.and(
                com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAPackage(
                    "ironsieve.."),
                com.tngtech.archunit.base.DescribedPredicate.not(
                    com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAnyPackage(
                        packages))))
        .check(CORE);
  }
}
