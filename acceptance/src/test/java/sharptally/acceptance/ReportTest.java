package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.StringReader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import javax.xml.parsers.DocumentBuilderFactory;
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
        String table = "CREATE TABLE reading (id INTEGER PRIMARY KEY, level TEXT)";
        target.execute(table);
        source.execute(
                table,
                "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 100000)"
                        + " INSERT INTO reading SELECT i, 'level ' || i FROM n");
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
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
}
