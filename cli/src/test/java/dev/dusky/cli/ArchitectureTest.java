package dev.dusky.cli;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.dependencies.SlicesRuleDefinition;
import dev.dusky.core.balance.Proofs;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.ledger.FeedEntries;
import dev.dusky.core.ledger.Journal;
import dev.dusky.core.ledger.LoadLedger;
import dev.dusky.core.ledger.RejectEntries;
import dev.dusky.core.merge.Merges;
import java.text.DateFormat;
import java.text.NumberFormat;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.time.format.FormatStyle;
import java.util.Arrays;
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
        .resideOutsideOfPackages("dev.dusky.formats..", "dev.dusky.lake..", "dev.dusky.engine..")
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
        .layer("lake")
        .definedBy("dev.dusky.lake..")
        .layer("engine")
        .definedBy("dev.dusky.engine..")
        .layer("standin")
        .definedBy("dev.dusky.standin..")
        .layer("app")
        .definedBy("dev.dusky.app..")
        .layer("cli")
        .definedBy("dev.dusky.cli..")
        .whereLayer("cli")
        .mayNotBeAccessedByAnyLayer()
        .whereLayer("app")
        .mayOnlyBeAccessedByLayers("cli")
        .whereLayer("formats")
        .mayNotBeAccessedByAnyLayer() // found through ServiceLoader
        .whereLayer("lake")
        .mayNotBeAccessedByAnyLayer() // found through ServiceLoader
        .whereLayer("engine")
        .mayNotBeAccessedByAnyLayer() // a process apart
        .whereLayer("engine")
        .mayNotAccessAnyLayer()
        .whereLayer("warehouses")
        .mayOnlyBeAccessedByLayers("lake") // else found through ServiceLoader
        .whereLayer("depots")
        .mayOnlyBeAccessedByLayers("app")
        .whereLayer("standin")
        .mayOnlyBeAccessedByLayers("cli")
        .check(CLASSES);
  }

  /** What a use case returns may be shown; what reaches depots, ledgers and tables may not. */
  @Test
  void theCommandLineSeesUseCasesAndTheirResultsOnly() {
    noClasses()
        .that()
        .resideInAPackage("dev.dusky.cli..")
        .should()
        .dependOnClassesThat(
            JavaClass.Predicates.resideInAnyPackage("dev.dusky.core.tables..")
                .or(JavaClass.Predicates.assignableTo(Depot.class))
                .or(JavaClass.Predicates.assignableTo(LoadLedger.class))
                .or(JavaClass.Predicates.assignableTo(Journal.class))
                .or(JavaClass.Predicates.assignableTo(RejectEntries.class))
                .or(JavaClass.Predicates.assignableTo(FeedEntries.class))
                .or(JavaClass.Predicates.assignableTo(Merges.class))
                .or(JavaClass.Predicates.assignableTo(Proofs.class)))
        .check(CLASSES);
  }

  /** The layers of the core, from data to what is done with it. */
  @Test
  void theCoreIsModelReadingAndFlow() {
    String[] model = {"failure", "text", "secret", "type", "layout", "tally", "table", "feed"};
    String[] reading = {"bytes", "record", "json", "vector", "bind", "expression"};
    String[] flow = {
      "ledger",
      "tables",
      "warehouse",
      "load",
      "mend",
      "rehearse",
      "balance",
      "preview",
      "draft",
      "stage",
      "watch",
      "tidy",
      "advice",
      "probe",
      "notice"
    };
    noClasses()
        .that()
        .resideInAnyPackage(core(model))
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(core(flow))
        .check(CLASSES);
    noClasses()
        .that()
        .resideInAnyPackage(core(reading))
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(core(flow))
        .check(CLASSES);
  }

  private static String[] core(String... packages) {
    return Arrays.stream(packages).map(p -> "dev.dusky.core." + p + "..").toArray(String[]::new);
  }

  /** Schedulers know functions, not the loader. */
  @Test
  void schedulersDoNotKnowTheLoader() {
    noClasses()
        .that()
        .haveSimpleNameEndingWith("Scheduler")
        .should()
        .dependOnClassesThat()
        .haveSimpleName("FeedLoader")
        .orShould()
        .dependOnClassesThat()
        .haveSimpleName("FileProcessor")
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
  void noPackageOfTheHouseIsInACycle() {
    SlicesRuleDefinition.slices()
        .matching("dev.dusky.(**)")
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
        .resideInAnyPackage("dev.dusky.core.draft..", "dev.dusky.core.preview..")
        .check(CLASSES);
  }

  @Test
  void commandsDoNotTouchTheDatabaseThemselves() {
    noClasses()
        .that()
        .resideInAnyPackage("dev.dusky.cli..", "dev.dusky.app..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("java.sql..", "software.amazon..", "org.jdbi..")
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
