package sharptally.cli;

import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAPackage;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.methods;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.base.DescribedPredicate;
import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.domain.JavaMethod;
import com.tngtech.archunit.core.domain.JavaModifier;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Timestamp;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.TimeZone;
import java.util.TreeMap;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import sharptally.core.place.Place;

/** Dependencies point one way: cli, api, report, formats, core; engines know core alone. */
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
                    // All of it but how floating values are written.
                    "com.fasterxml.jackson.core",
                    "com.fasterxml.jackson.databind..",
                    "org.jline..",
                    "sharptally.engines..",
                    "sharptally.formats..",
                    "sharptally.report..",
                    "sharptally.api..",
                    "sharptally.cli..");

    @ArchTest
    static final ArchRule enginesKnowCoreAlone = noClasses()
            .that()
            .resideInAPackage("sharptally.engines..")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage(
                    "sharptally.formats..",
                    "sharptally.report..",
                    "sharptally.api..",
                    "sharptally.cli..",
                    // The reader of JSON files alone, which makes no objects of them.
                    "com.fasterxml.jackson.databind..",
                    "com.fasterxml.jackson.dataformat..",
                    "picocli..");

    @ArchTest
    static final ArchRule formatsAndReportKnowNoEngine = noClasses()
            .that()
            .resideInAnyPackage("sharptally.formats..", "sharptally.report..")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage(
                    "sharptally.engines..", "sharptally.api..", "sharptally.cli..", "java.sql..", "picocli..");

    @ArchTest
    static final ArchRule formatsDoNotRender = noClasses()
            .that()
            .resideInAPackage("sharptally.formats..")
            .should()
            .dependOnClassesThat()
            .resideInAPackage("sharptally.report..");

    @ArchTest
    static final ArchRule apiHasNoOptionsAndNoScreen = noClasses()
            .that()
            .resideInAPackage("sharptally.api..")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage("picocli..", "sharptally.cli..", "org.jline..", "me.tongfei..", "jakarta..");

    /** What programs call shows nothing of how it is done. */
    @ArchTest
    static final ArchRule signaturesOfTheApiAreItsOwn = methods()
            .that()
            .areDeclaredInClassesThat()
            .resideInAPackage("sharptally.api")
            .and()
            .areDeclaredInClassesThat()
            .arePublic()
            .and()
            .arePublic()
            .should()
            .haveRawReturnType(JavaClass.Predicates.resideInAnyPackage("java..", "javax..", "sharptally.api", ""))
            .andShould()
            .haveRawParameterTypes(allOf("java..", "javax..", "sharptally.api", ""));

    private static DescribedPredicate<List<JavaClass>> allOf(String... packages) {
        var one = JavaClass.Predicates.resideInAnyPackage(packages);
        return DescribedPredicate.describe(
                "of the API or of Java",
                types -> types.stream().allMatch(type -> type.isPrimitive() || type.isArray() || one.test(type)));
    }

    @ArchTest
    static final ArchRule commandsKnowNoEngine = noClasses()
            .that()
            .resideInAPackage("sharptally.cli..")
            .should()
            .dependOnClassesThat()
            .resideInAPackage("sharptally.engines..");

    /** Each may use what they share; the list of them all knows each. */
    @ArchTest
    static final ArchRule enginesDoNotKnowEachOther = slices().matching("sharptally.engines.(*)..")
            .should()
            .notDependOnEachOther()
            .ignoreDependency(DescribedPredicate.alwaysTrue(), resideInAPackage("sharptally.engines.jdbc.."));

    /** What it does is the same wherever it runs: digits, letters and hours are not those of the machine's place. */
    @ArchTest
    static final ArchRule nothingHangsOnWhereTheMachineStands = noClasses()
            .should()
            .callMethod(String.class, "formatted", Object[].class)
            .orShould()
            .callMethod(String.class, "format", String.class, Object[].class)
            .orShould()
            .callMethod(String.class, "toLowerCase")
            .orShould()
            .callMethod(String.class, "toUpperCase")
            .orShould()
            .callMethod(String.class, "getBytes")
            .orShould()
            .callConstructor(String.class, byte[].class)
            .orShould()
            .callMethod(ZoneId.class, "systemDefault")
            .orShould()
            .callMethod(TimeZone.class, "getDefault")
            .orShould()
            .callMethod(LocalDateTime.class, "now")
            .orShould()
            .callMethod(LocalDate.class, "now")
            .orShould()
            .callMethod(Timestamp.class, "toLocalDateTime")
            .orShould()
            .callMethod(Timestamp.class, "valueOf", LocalDateTime.class)
            .orShould()
            .callMethod(Timestamp.class, "valueOf", String.class);

    /** A program that calls us has no options; whoever has them says how a {@code Hint} is followed there. */
    @ArchTest
    static void commandsAloneSpeakOfOptions(JavaClasses classes) throws IOException {
        for (String module : List.of("core", "formats", "engines", "api")) {
            try (Stream<Path> sources = Files.walk(Path.of("..", module, "src/main/java"))) {
                assertThat(sources.filter(Files::isRegularFile).filter(ArchitectureTest::namesAnOption))
                        .isEmpty();
            }
        }
    }

    private static boolean namesAnOption(Path source) {
        if (ABOUT_COMMANDS.contains(source.getFileName().toString())) {
            return false;
        }
        try {
            return OPTION.matcher(Files.readString(source)).find();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** What is written for somebody at a command line, and what a warning of old says; and an option of another program. */
    private static final List<String> ABOUT_COMMANDS =
            List.of("DraftText.java", "ApplyJob.java", "TargetChanges.java", "MariaDialect.java", "TrinoDialect.java");

    private static final Pattern OPTION = Pattern.compile("\"[^\"\\n]*(?<![-\\w])--[a-z]");

    /** Past so many files there is a second idea in a package. */
    @ArchTest
    static void packagesAreSmall(JavaClasses classes) throws IOException {
        Map<String, Long> sizes = new TreeMap<>();
        for (String module : List.of("core", "engines", "formats", "report", "api", "cli")) {
            try (Stream<Path> sources = Files.walk(Path.of("..", module, "src/main/java"))) {
                sources.filter(Files::isRegularFile)
                        .forEach(source -> sizes.merge(source.getParent().toString(), 1L, Long::sum));
            }
        }
        sizes.values().removeIf(n -> n <= 20);
        assertThat(sizes).isEmpty();
    }

    /** What takes more has a second idea in it. Not so flat objects of documented files, and the phrases of
     * one engine's totals. */
    @ArchTest
    static void recordsAndMethodsTakeFew(JavaClasses classes) {
        List<String> large = classes.stream()
                .filter(c -> c.isRecord() && !FLAT.contains(c.getSimpleName()))
                .filter(c -> c.reflect().getRecordComponents().length > 9)
                .map(JavaClass::getName)
                .toList();
        List<String> crowded = classes.stream()
                .flatMap(c -> c.getMethods().stream())
                .filter(m -> !m.getModifiers().contains(JavaModifier.SYNTHETIC))
                .filter(m -> m.getRawParameterTypes().size() > 6)
                .map(JavaMethod::getFullName)
                .toList();
        assertThat(large).isEmpty();
        assertThat(crowded).isEmpty();
    }

    private static final List<String> FLAT =
            List.of("RunSummary", "MatchSummary", "Head", "Entry", "JobFile", "Totalling");

    /** Of core and formats, commands have the words alone: kinds of failures and findings, sides, names, run folders. */
    @ArchTest
    static final ArchRule commandsLeaveTheWorkToJobs = noClasses()
            .that()
            .resideInAPackage("sharptally.cli..")
            .and()
            .resideOutsideOfPackage("sharptally.cli.demo..")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage(
                    "java.sql..",
                    "sharptally.core.compare.checksum..",
                    "sharptally.core.compare.join..",
                    "sharptally.core.compare.method..",
                    "sharptally.core.compare.run..",
                    "sharptally.core.compare.stream..",
                    "sharptally.core.draft..",
                    "sharptally.core.rows..",
                    "sharptally.core.rule..",
                    "sharptally.core.sort..")
            .orShould()
            .dependOnClassesThat()
            .areAssignableTo(Place.class);

    @ArchTest
    static final ArchRule packagesOfCoreHaveNoCycles =
            slices().matching("sharptally.core.(*)..").should().beFreeOfCycles();
}
