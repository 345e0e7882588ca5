package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.StringReader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import javax.xml.parsers.DocumentBuilderFactory;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.cos.COSName;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.text.PDFTextStripper;
import org.dhatim.fastexcel.reader.Cell;
import org.dhatim.fastexcel.reader.CellType;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.dhatim.fastexcel.reader.Row;
import org.dhatim.fastexcel.reader.Sheet;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.xml.sax.InputSource;
import sharptally.acceptance.Database.Kind;

/** Reports of a run whose names and values try to be HTML, scripts, formulas and terminal codes. */
class ReportTest {
    private static final String EVIL = "<img src=x onerror=alert(1)>";
    private static final List<String> VALUES = List.of(
            "</script><script>alert(2)</script>",
            "=HYPERLINK(\"http://127.0.0.1/\")",
            "\u001b[31mred",
            "]]> & \"quoted\" | `code` *star*",
            "${7*7} <#assign x=1>");

    @TempDir
    Path folder;

    private Tool tool;
    private Database source;
    private Database target;

    @BeforeEach
    void start() {
        tool = new Tool(folder);
        source = new Database(Kind.SQLITE, folder, "src");
        target = new Database(Kind.SQLITE, folder, "tgt");
    }

    private void fill() throws Exception {
        for (Database database : List.of(source, target)) {
            List<String> sql = new ArrayList<>(List.of(
                    "CREATE TABLE " + database.quote(EVIL) + " (id INTEGER PRIMARY KEY, " + database.quote("b<b>")
                            + " TEXT)",
                    "CREATE TABLE calm (id INTEGER PRIMARY KEY)"));
            for (int id = 0; id < VALUES.size(); id++) {
                String value = database == source ? VALUES.get(id) : "now " + id;
                sql.add("INSERT INTO " + database.quote(EVIL) + " VALUES (" + id + ", '" + value.replace("'", "''")
                        + "')");
            }
            database.execute(sql.toArray(String[]::new));
        }
        source.execute("INSERT INTO " + source.quote(EVIL) + " VALUES (90, 'only here')");
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
    }

    /** A run in which so many rows are missing. */
    private void compareMissing(int rows) throws Exception {
        String table = "CREATE TABLE reading (id INTEGER PRIMARY KEY, level TEXT)";
        target.execute(table);
        source.execute(
                table,
                "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < " + rows + ")"
                        + " INSERT INTO reading SELECT i, 'level ' || i FROM n");
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
    }

    private Tool.Result ok(String... arguments) {
        Tool.Result result = tool.run(arguments);
        assertThat(result.code()).as(result.all()).isZero();
        assertThat(result.all()).doesNotContain("\u001b");
        return result;
    }

    @Test
    void thePageWorksByItselfAndShowsEverythingAsText() throws Exception {
        assumeTrue(Browser.isThere(), "Chromium is not installed");
        fill();
        ok("report", "--out-folder", "out");
        try (Browser page = new Browser(folder.resolve("browser"), folder.resolve("out/report.html"))) {
            assertThat(page.value("document.querySelector('h1').innerText")).contains("different: 1 of 2 tables same");
            assertThat(page.value("document.querySelectorAll('tr.different, tr.same').length"))
                    .isEqualTo("2");
            assertThat(page.value("document.querySelectorAll('main img, main script').length"))
                    .isEqualTo("0");
            assertThat(page.value("document.querySelector('#found').innerText"))
                    .contains(EVIL, VALUES.get(0), VALUES.get(1), VALUES.get(4), "\\u{1b}[31mred");
            page.value("var k = document.getElementById('f-kind'); k.value = 'missing'; k.onchange()");
            assertThat(page.value("document.getElementById('count').innerText")).isEqualTo("1 listed");
            page.value("k.value = ''; var t = document.getElementById('f-text'); t.value = 'RED'; t.oninput()");
            assertThat(page.value("document.getElementById('count').innerText")).isEqualTo("1 listed");
            page.value("document.querySelector('#found tbody input').click()");
            assertThat(page.value("document.getElementById('count').innerText")).isEqualTo("1 listed, 1 marked");
            page.value("document.getElementById('save').click()");
            Path saved = folder.resolve("browser/selection.jsonl");
            for (int i = 0; i < 100 && !Files.exists(saved); i++) {
                Thread.sleep(50);
            }
            assertThat(ok("show", "--selection", saved.toString()).out())
                    .contains("1 finding")
                    .contains("now 2");
            assertThat(page.requests)
                    .allMatch(url -> url.startsWith("file:") || url.startsWith("data:") || url.startsWith("blob:"));
            assertThat(page.complaints).isEmpty();
        }
    }

    @Test
    void aHundredThousandFindingsOpenAtOnce() throws Exception {
        assumeTrue(Browser.isThere(), "Chromium is not installed");
        compareMissing(100000);
        ok("report", "--limit", "100000", "--out-folder", "out");
        long start = System.nanoTime();
        try (Browser page = new Browser(folder.resolve("browser"), folder.resolve("out/report.html"))) {
            assertThat(page.value("document.getElementById('count').innerText")).isEqualTo("100,000 listed");
            System.out.println("opened in " + (System.nanoTime() - start) / 1_000_000 + " ms, browser included");
            double seconds = page.secondsToLoad();
            for (int again = 0; again < 4 && seconds >= 3; again++) {
                // Others are at work on this machine as well: the best of some is what the page itself takes.
                page.reload();
                seconds = Math.min(seconds, page.secondsToLoad());
            }
            assertThat(seconds).isLessThan(3);
            page.value("document.getElementById('on').click()");
            assertThat(page.value("document.getElementById('page').innerText")).isEqualTo("page 2 of 2,000");
        }
        Tool.Result capped = ok("report", "--limit", "1000", "--out-folder", "capped");
        assertThat(capped.out()).contains("findings-csv/reading.csv");
        assertThat(Files.readString(folder.resolve("capped/report.html"))).contains("The first 1,000 of 100,000");
        assertThat(Files.readAllLines(folder.resolve("capped/findings-csv/reading.csv")))
                .hasSize(200_001);
    }

    @Test
    void otherFormsAreWellFormedAndHideWhatTheyShould() throws Exception {
        fill();
        ok("report", "--format", "md,csv,junit,html", "--out-folder", "out");
        var xml = DocumentBuilderFactory.newInstance()
                .newDocumentBuilder()
                .parse(new InputSource(new StringReader(Files.readString(folder.resolve("out/report.xml")))));
        assertThat(xml.getElementsByTagName("testcase").getLength()).isEqualTo(2);
        assertThat(xml.getElementsByTagName("failure")
                        .item(0)
                        .getAttributes()
                        .getNamedItem("message")
                        .getNodeValue())
                .contains("5 changed, 1 missing");
        assertThat(Files.readString(folder.resolve("out/report.md"))).doesNotContain("<img", "<script");
        String csv = Files.readString(folder.resolve("out/findings-csv/_img_src_x_onerror_alert_1__.csv"));
        assertThat(csv).contains("now 1").doesNotContain("\u001b").doesNotContainPattern("(^|,)\"?=");

        ok("report", "--format", "md,csv,junit,html", "--redact", "--out-folder", "hidden");
        try (var files = Files.walk(folder.resolve("hidden"))) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                assertThat(Files.readString(file))
                        .as(file.toString())
                        .doesNotContain("now 1", "only here", "HYPERLINK", "[31m");
            }
        }
        assertThat(Files.readString(folder.resolve("hidden/report.html"))).contains("values hidden", "letters) #");
        assertThat(Pattern.compile("\\.draft").matcher(ok("history").out()).find())
                .isFalse();
        assertThat(ok("show", "--view", "columns", "--format", "jsonl").out()).contains("\"causes\"");
        assertThat(ok("show", "--view", "values").out()).contains("\\u{1b}[31mred", "only here");
        assertThat(ok("show", "--view", "detail").out()).contains("\\u{1b}[31mred", "    source  ");
    }

    private static String text(Path pdf) throws Exception {
        try (PDDocument document = Loader.loadPDF(pdf.toFile())) {
            assertThat(document.getDocumentCatalog().getMarkInfo().isMarked())
                    .as("tagged")
                    .isTrue();
            assertThat(document.getDocumentCatalog().getLanguage()).isEqualTo("en");
            for (PDPage page : document.getPages()) {
                for (COSName name : page.getResources().getFontNames()) {
                    assertThat(page.getResources().getFont(name).isEmbedded())
                            .as(name.getName())
                            .isTrue();
                }
            }
            return new PDFTextStripper().getText(document).replace('\u00a0', ' ');
        }
    }

    /** What an auditor needs is on paper: what was compared and how, what followed, and how much is not there. */
    @Test
    void paperTellsWhatWasComparedAndWhatIsNotOnIt() throws Exception {
        fill();
        source.execute(
                "CREATE TABLE far (id INTEGER PRIMARY KEY, name TEXT)", "INSERT INTO far VALUES (1, '\u4e2d \u00c5')");
        target.execute("CREATE TABLE far (id INTEGER PRIMARY KEY, name TEXT)", "INSERT INTO far VALUES (1, '\u0394')");
        Files.writeString(
                folder.resolve("night.yaml"),
                "job: 1\nsource: \"" + source.address() + "\"\ntarget: \"" + target.address() + "\"\n");
        assertThat(tool.run("compare", "--job", "night.yaml").code()).isEqualTo(1);
        ok("report", "--format", "pdf", "--out-folder", "before");
        assertThat(text(folder.resolve("before/report.pdf"))).contains("\\u{4e2d} \u00c5", "\u0394");
        ok("script");
        assertThat(tool.run("apply", "--job", "night.yaml", "--table", "far", "--yes")
                        .code())
                .isEqualTo(1);
        ok("report", "--format", "pdf,html", "--out-folder", "out");
        String paper = text(folder.resolve("out/report.pdf"));
        String hash = HexFormat.of()
                .formatHex(
                        MessageDigest.getInstance("SHA-256").digest(Files.readAllBytes(folder.resolve("night.yaml"))));
        for (String said : List.of(
                "different: 2 of 3 tables same",
                "findings are on this paper",
                EVIL,
                hash,
                "source schema",
                "in one state of the database",
                System.getProperty("user.name") + "@",
                "columns compared",
                "What followed",
                "apply",
                "undo-sha256")) {
            assertThat(paper.replaceAll("\\s+", " ")).contains(said);
        }
        ok("report", "--format", "pdf", "--limit", "1", "--out-folder", "short");
        assertThat(text(folder.resolve("short/report.pdf")).replaceAll("\\s+", " "))
                .contains("The first 1 of ", "are not, and all are in the CSV files");
        assertThat(folder.resolve("short/findings-csv")).isDirectory();
        ok("report", "--format", "pdf,xlsx", "--redact", "--out-folder", "hidden");
        assertThat(text(folder.resolve("hidden/report.pdf"))).doesNotContain("now 1", "only here", "HYPERLINK");
        Path audit = tool.latestRun().resolve("audit.jsonl");
        Files.writeString(audit, Files.readString(audit).replaceFirst("\"did\":\"script\"", "\"did\":\"nothing\""));
        ok("report", "--format", "pdf,md", "--out-folder", "bent");
        assertThat(text(folder.resolve("bent/report.pdf")).replaceAll("\\s+", " "))
                .contains("NOT TO BE TRUSTED");
    }

    /** Types survive in a workbook where they can, nothing is worked out in it, and nothing is cut in silence. */
    @Test
    void workbookKeepsTypesAndRunsNothing() throws Exception {
        Database one = new Database(Kind.H2, folder, "one");
        Database two = new Database(Kind.H2, folder, "two");
        String table = "CREATE TABLE kinds (id INT PRIMARY KEY, amount DECIMAL(20,4), big DECIMAL(30,0), on_day DATE,"
                + " early DATE, at_time TIMESTAMP, ok BOOLEAN, note VARCHAR(40000))";
        one.execute(
                table,
                "INSERT INTO kinds VALUES (1, 12.5, 12345678901234567890, DATE '2026-03-01', DATE '1899-12-31',"
                        + " TIMESTAMP '2026-03-01 10:20:30', TRUE, '=1+1'),"
                        + " (2, NULL, 7, NULL, NULL, TIMESTAMP '2026-03-01 10:20:30.5', NULL, REPEAT('x', 39999))");
        two.execute(table);
        assertThat(tool.run("compare", one.address(), two.address()).code()).isEqualTo(1);
        ok("report", "--format", "xlsx", "--out-folder", "out");
        try (ReadableWorkbook book =
                new ReadableWorkbook(folder.resolve("out/report.xlsx").toFile())) {
            assertThat(book.getSheets().map(Sheet::getName)).containsExactly("Summary", "KINDS");
            List<Row> rows = book.getSheets().skip(1).findFirst().orElseThrow().read();
            assertThat(rows).hasSize(17);
            Map<String, Cell> first = new HashMap<>();
            Map<String, Cell> second = new HashMap<>();
            rows.stream()
                    .skip(1)
                    .forEach(row -> (row.getCell(1).getText().equals("1") ? first : second)
                            .put(row.getCell(2).getText(), row.getCell(3)));
            assertThat(first.get("AMOUNT").asNumber()).isEqualByComparingTo("12.5");
            assertThat(first.get("BIG").getType()).isEqualTo(CellType.STRING);
            assertThat(first.get("BIG").asString()).isEqualTo("12345678901234567890");
            assertThat(second.get("BIG").getType()).isEqualTo(CellType.NUMBER);
            assertThat(first.get("ON_DAY").asDate()).isEqualTo("2026-03-01T00:00:00");
            assertThat(first.get("EARLY").asString()).isEqualTo("1899-12-31");
            assertThat(first.get("AT_TIME").asDate()).isEqualTo("2026-03-01T10:20:30");
            assertThat(second.get("AT_TIME").asString()).startsWith("2026-03-01 10:20:30.5");
            assertThat(first.get("OK").asBoolean()).isTrue();
            assertThat(second.get("OK").asString()).isEqualTo("NULL");
            assertThat(first.get("NOTE").getType()).isEqualTo(CellType.STRING);
            assertThat(first.get("NOTE").asString()).isEqualTo("=1+1");
            assertThat(second.get("NOTE").asString()).hasSize(32_767).endsWith("(39999 letters, cut)");
            assertThat(rows.stream().flatMap(Row::stream).filter(c -> c != null && c.getFormula() != null))
                    .isEmpty();
        }
    }

    @Test
    void printedPageSaysHowMuchOfItIsOnPaper() throws Exception {
        assumeTrue(Browser.isThere(), "Chromium is not installed");
        compareMissing(120);
        for (boolean all : List.of(false, true)) {
            ok(
                    all
                            ? new String[] {"report", "--print-all", "--out-folder", "out"}
                            : new String[] {"report", "--out-folder", "out"});
            try (Browser page = new Browser(folder.resolve("browser" + all), folder.resolve("out/report.html"))) {
                page.value("dispatchEvent(new Event('beforeprint'))");
                assertThat(page.value("document.getElementById('paper').textContent"))
                        .startsWith(all ? "120 of 120 rows" : "50 of 120 rows");
                assertThat(page.value("document.querySelectorAll('#found tbody tr td.k-missing').length"))
                        .isEqualTo(all ? "120" : "50");
                page.value("var t = document.getElementById('f-text'); t.value = 'no such'; t.oninput()");
                assertThat(page.value("document.querySelector('#found tbody').innerText"))
                        .contains("no row matches");
            }
        }
    }
}
