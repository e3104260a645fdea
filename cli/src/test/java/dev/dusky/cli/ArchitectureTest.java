package dev.dusky.cli;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.dependencies.SlicesRuleDefinition;
import java.text.DateFormat;
import java.text.NumberFormat;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.time.format.FormatStyle;
import java.util.Locale;
import java.util.TimeZone;
import org.junit.jupiter.api.Test;

/** The structure that docs/architecture.md describes, held by tests. */
class ArchitectureTest {

  private static final JavaClasses CLASSES =
      new ClassFileImporter()
          .withImportOption(ImportOption.Predefined.DO_NOT_INCLUDE_TESTS)
          .importPackages("dev.dusky");

  @Test
  void theCoreKnowsNoCommandLineNoDatabaseNoNetworkAndNoCloud() {
    noClasses()
        .that()
        .resideInAPackage("dev.dusky.core..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "picocli..",
            "java.sql..",
            "javax.sql..",
            "java.net..",
            "com.sun.net..",
            "software.amazon..",
            "org.h2..",
            "org.postgresql..",
            "org.apache.hadoop..",
            "org.apache.parquet..",
            "org.apache.orc..",
            "org.apache.avro..")
        .check(CLASSES);
  }

  @Test
  void onlyTheFormatsKnowTheirLibraries() {
    noClasses()
        .that()
        .resideOutsideOfPackage("dev.dusky.formats..")
        .and()
        .resideInAPackage("dev.dusky..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "org.apache.hadoop..",
            "org.apache.parquet..",
            "org.apache.orc..",
            "org.apache.avro..",
            "org.dhatim..",
            "org.codehaus.stax2..",
            "com.fasterxml.aalto..")
        .check(CLASSES);
  }

  @Test
  void modulesDependInwardsOnly() {
    layeredArchitecture()
        .consideringOnlyDependenciesInLayers()
        .layer("core")
        .definedBy("dev.dusky.core..")
        .layer("formats")
        .definedBy("dev.dusky.formats..")
        .layer("depots")
        .definedBy("dev.dusky.depots..")
        .layer("warehouses")
        .definedBy("dev.dusky.warehouses..")
        .layer("standin")
        .definedBy("dev.dusky.standin..")
        .layer("cli")
        .definedBy("dev.dusky.cli..")
        .whereLayer("cli")
        .mayNotBeAccessedByAnyLayer()
        .whereLayer("formats")
        .mayNotBeAccessedByAnyLayer() // found through ServiceLoader
        .whereLayer("depots")
        .mayOnlyBeAccessedByLayers("cli")
        .whereLayer("warehouses")
        .mayOnlyBeAccessedByLayers("cli")
        .whereLayer("standin")
        .mayOnlyBeAccessedByLayers("cli")
        .check(CLASSES);
  }

  @Test
  void theStandInNeedsNothingButTheJdk() {
    classes()
        .that()
        .resideInAPackage("dev.dusky.standin..")
        .should()
        .onlyDependOnClassesThat()
        .resideInAnyPackage("dev.dusky.standin..", "java..", "javax..", "com.sun.net.httpserver..")
        .check(CLASSES);
  }

  @Test
  void thePackagesOfTheCoreHaveNoCyclesAmongTheData() {
    SlicesRuleDefinition.slices()
        .matching(
            "dev.dusky.core.(layout|bytes|record|reject|type|tally|failure|secret|depot|vector|json)..")
        .should()
        .beFreeOfCycles()
        .check(CLASSES);
  }

  @Test
  void whatIsBuiltOnTheDataPathStaysOutOfIt() {
    noClasses()
        .that()
        .resideInAnyPackage(
            "dev.dusky.core.record..",
            "dev.dusky.core.bind..",
            "dev.dusky.core.expression..",
            "dev.dusky.core.load..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("dev.dusky.core.draft..", "dev.dusky.core.look..")
        .check(CLASSES);
  }

  @Test
  void commandsDoNotTouchTheDatabaseThemselves() {
    noClasses()
        .that()
        .resideInAPackage("dev.dusky.cli..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("java.sql..", "software.amazon..")
        .check(CLASSES);
  }

  /** {@link Main} pins locale and time zone; nothing may ask for them or change them. */
  @Test
  void whatIsWrittenDoesNotDependOnTheMachine() {
    noClasses()
        .should()
        .callMethod(String.class, "toLowerCase")
        .orShould()
        .callMethod(String.class, "toUpperCase")
        .orShould()
        .callMethod(Locale.class, "getDefault")
        .orShould()
        .callMethod(TimeZone.class, "getDefault")
        .orShould()
        .callMethod(ZoneId.class, "systemDefault")
        .orShould()
        .callMethod(LocalDate.class, "now")
        .orShould()
        .callMethod(LocalDateTime.class, "now")
        .orShould()
        .callMethod(DateTimeFormatter.class, "ofPattern", String.class)
        .orShould()
        .callMethod(DateTimeFormatter.class, "ofLocalizedDate", FormatStyle.class)
        .orShould()
        .dependOnClassesThat()
        .areAssignableTo(NumberFormat.class)
        .orShould()
        .dependOnClassesThat()
        .areAssignableTo(DateFormat.class)
        .check(CLASSES);
    noClasses()
        .that()
        .doNotHaveFullyQualifiedName(Main.class.getName())
        .should()
        .callMethod(Locale.class, "setDefault", Locale.class)
        .orShould()
        .callMethod(TimeZone.class, "setDefault", TimeZone.class)
        .check(CLASSES);
  }
}
