package sharptally.cli;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;

/** Dependencies point one way: cli, report, formats, core; engines know core alone. */
@AnalyzeClasses(packages = "sharptally", importOptions = ImportOption.DoNotIncludeTests.class)
class ArchitectureTest {
    @ArchTest
    static final ArchRule coreKnowsNoInterfaceNoFormatAndNoDriver = noClasses()
            .that()
            .resideInAPackage("sharptally.core..")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage(
                    "java.sql..",
                    "javax.sql..",
                    "picocli..",
                    "com.fasterxml..",
                    "org.jline..",
                    "sharptally.engines..",
                    "sharptally.formats..",
                    "sharptally.report..",
                    "sharptally.cli..");

    @ArchTest
    static final ArchRule enginesKnowCoreAlone = noClasses()
            .that()
            .resideInAPackage("sharptally.engines..")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage(
                    "sharptally.formats..", "sharptally.report..", "sharptally.cli..", "com.fasterxml..", "picocli..");

    @ArchTest
    static final ArchRule formatsAndReportKnowNoEngine = noClasses()
            .that()
            .resideInAnyPackage("sharptally.formats..", "sharptally.report..")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage("sharptally.engines..", "sharptally.cli..", "java.sql..", "picocli..");

    @ArchTest
    static final ArchRule formatsDoNotRender = noClasses()
            .that()
            .resideInAPackage("sharptally.formats..")
            .should()
            .dependOnClassesThat()
            .resideInAPackage("sharptally.report..");

    @ArchTest
    static final ArchRule jobsHaveNoOptionsAndNoScreen = noClasses()
            .that()
            .resideInAPackage("sharptally.cli.job..")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage("picocli..", "sharptally.cli", "org.jline..", "me.tongfei..");

    @ArchTest
    static final ArchRule enginesDoNotKnowEachOther = noClasses()
            .that()
            .resideInAPackage("sharptally.engines.sqlite..")
            .should()
            .dependOnClassesThat()
            .resideInAPackage("sharptally.engines.h2..");

    @ArchTest
    static final ArchRule packagesOfCoreHaveNoCycles =
            slices().matching("sharptally.core.(*)..").should().beFreeOfCycles();
}
