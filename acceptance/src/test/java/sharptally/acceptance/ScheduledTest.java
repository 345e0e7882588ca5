package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.GreenMailUtil;
import com.icegreen.greenmail.util.ServerSetup;
import com.sun.net.httpserver.HttpServer;
import jakarta.mail.internet.MimeMessage;
import jakarta.mail.internet.MimeMultipart;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.acceptance.Database.Kind;

/** Runs by a scheduler: one line, one at a time, the last ones kept, people and programs told. */
@InTurn(0)
class ScheduledTest {
    @TempDir
    Path folder;

    private Tool tool;
    private Database source;

    @BeforeEach
    void fill() throws Exception {
        tool = Tool.apart(folder);
        source = new Database(Kind.SQLITE, folder, "src");
        for (String name : List.of("src", "tgt")) {
            new Database(Kind.SQLITE, folder, name)
                    .execute(
                            "CREATE TABLE t (id INTEGER PRIMARY KEY, remark TEXT)", "INSERT INTO t VALUES (1, 'calm')");
        }
    }

    private void jobFile(String rest) throws Exception {
        Files.writeString(
                folder.resolve("night.yaml"), "job: 1\nsource: sqlite:src.db\ntarget: sqlite:tgt.db\n" + rest);
    }

    private Tool.Result run(int code) {
        Tool.Result result = tool.run("compare", "--job", "night.yaml", "--quiet");
        assertThat(result.code()).as(result.all()).isEqualTo(code);
        assertThat(result.lines()).hasSize(1);
        return result;
    }

    private long runs() throws Exception {
        try (Stream<Path> all = Files.list(folder.resolve("sharp-tally-runs"))) {
            return all.filter(Files::isDirectory).count();
        }
    }

    @Test
    void peopleAndProgramsAreTold() throws Exception {
        GreenMail mail = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
        mail.start();
        List<String> posted = new CopyOnWriteArrayList<>();
        HttpServer web = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        web.createContext("/", exchange -> {
            posted.add(new String(exchange.getRequestBody().readAllBytes()));
            exchange.sendResponseHeaders(exchange.getRequestURI().getPath().equals("/bad") ? 500 : 204, -1);
            exchange.close();
        });
        web.start();
        try {
            String url = "http://127.0.0.1:" + web.getAddress().getPort();
            String server = "{server: \"127.0.0.1:" + mail.getSmtp().getPort() + "\", from: tally@example.org";
            jobFile("notify:\n"
                    + "  - {when: change, mail: " + server + ", to: [one@example.org, two@example.org]}}\n"
                    + "  - {when: failure, mail: " + server + ", to: three@example.org}, redact: true}\n"
                    + "  - {when: always, post: \"" + url + "/hook\"}\n");
            run(0);
            assertThat(mail.getReceivedMessages()).hasSize(2);
            run(0);
            assertThat(mail.getReceivedMessages()).hasSize(2);
            source.execute("UPDATE t SET remark = 'secret remark'");
            run(1);
            assertThat(mail.getReceivedMessages()).hasSize(5);
            var told = different(mail, "one@example.org");
            assertThat(told.getSubject())
                    .isEqualTo(
                            "sharp-tally night.yaml: different: 0 of 1 table same; 1 changed, 0" + " missing, 0 extra");
            var parts = (MimeMultipart) told.getContent();
            assertThat(parts.getBodyPart(0).getContent().toString()).contains("secret remark");
            assertThat(parts.getBodyPart(1).getFileName()).isEqualTo("report.html");
            var hidden = (MimeMultipart) different(mail, "three@example.org").getContent();
            assertThat(hidden.getBodyPart(0).getContent().toString()).doesNotContain("secret remark");
            assertThat(new String(hidden.getBodyPart(1).getInputStream().readAllBytes()))
                    .contains("values hidden")
                    .doesNotContain("secret remark");
            assertThat(posted).hasSize(3);
            assertThat(new ObjectMapper()
                            .readTree(posted.get(2))
                            .at("/matches/0/changed")
                            .asInt())
                    .isEqualTo(1);

            mail.stop();
            jobFile("notify:\n  - {mail: " + server + ", to: one@example.org}}\n  - {post: \"" + url + "/bad\"}\n"
                    + "  - {mail: " + server
                    + ", to: one@example.org, tls: starttls, user: tally, password-variable: NO_SUCH_VARIABLE}}\n");
            Tool.Result untold = run(1);
            assertThat(untold.err().lines()).hasSize(3);
            assertThat(untold.err())
                    .contains("mail to one@example.org was not sent", "POST to 127.0.0.1 was not sent: it answered 500")
                    .contains("NO_SUCH_VARIABLE holds no password");
        } finally {
            web.stop(0);
            mail.stop();
        }
    }

    private static MimeMessage different(GreenMail mail, String to) throws Exception {
        for (MimeMessage message : mail.getReceivedMessages()) {
            if (message.getSubject().contains("different")
                    && GreenMailUtil.getHeaders(message).contains(to)) {
                return message;
            }
        }
        throw new AssertionError("no mail to " + to + " of a difference");
    }

    @Test
    void onlyTheLastRunsAreKept() throws Exception {
        jobFile("keep-runs: 2\n");
        tool.run("compare", "sqlite:src.db", "sqlite:tgt.db");
        Path damaged = Files.createDirectories(folder.resolve("sharp-tally-runs/2020-01-01T00-00-00"));
        Files.writeString(damaged.resolve("run.json"), "{");
        for (int i = 0; i < 4; i++) {
            assertThat(run(0).err()).isEmpty();
        }
        assertThat(runs()).isEqualTo(4);
        Tool.Result told = tool.run("history", "--job", "night.yaml");
        assertThat(told.out().lines().filter(l -> l.contains("same"))).hasSize(2);
    }

    @Test
    void twoRunsOfAJobFileDoNotOverlap() throws Exception {
        jobFile("");
        run(0);
        String jobFile =
                folder.resolve("night.yaml").toAbsolutePath().normalize().toString();
        Path lock = folder.resolve("sharp-tally-runs/.lock-" + Integer.toHexString(jobFile.hashCode()));
        assertThat(lock).doesNotExist();
        Files.writeString(lock, "process 1 since today");
        try (FileChannel channel = FileChannel.open(lock, StandardOpenOption.WRITE)) {
            channel.lock();
            Tool.Result refused = tool.run("compare", "--job", "night.yaml");
            assertThat(refused.code()).as(refused.all()).isEqualTo(4);
            assertThat(refused.err()).contains("another run of this job file is under way (process 1 since today)");
        }
        run(0);
    }

    /** Another process compares by the same job, really; it is killed, and what then comes to its end says so. */
    @Test
    void runsThatFailAreTold() throws Exception {
        List<JsonNode> posted = new CopyOnWriteArrayList<>();
        HttpServer web = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        web.createContext("/", exchange -> {
            posted.add(new ObjectMapper().readTree(exchange.getRequestBody().readAllBytes()));
            exchange.sendResponseHeaders(204, -1);
            exchange.close();
        });
        web.start();
        try {
            String notify = "record: sqlite:record.db\nnotify:\n  - {when: failure, post: \"http://127.0.0.1:"
                    + web.getAddress().getPort() + "/\"}\n";
            Files.createFile(folder.resolve("record.db"));
            jobFile(notify);
            for (String name : List.of("src", "tgt")) {
                new Database(Kind.SQLITE, folder, name)
                        .execute("WITH RECURSIVE n(i) AS (SELECT 2 UNION ALL SELECT i + 1 FROM n WHERE i < 4000)"
                                + " INSERT INTO t SELECT i, 'wind' FROM n");
            }
            run(0);
            assertThat(posted).isEmpty();
            Process first = new ProcessBuilder(
                            Tool.home().resolve("bin/sharp-tally").toString(),
                            "compare",
                            "--job",
                            "night.yaml",
                            "--pace",
                            "1")
                    .directory(folder.toFile())
                    .redirectErrorStream(true)
                    .redirectOutput(folder.resolve("log").toFile())
                    .start();
            long runs = runs();
            while (runs() == runs && first.isAlive()) {
                Thread.sleep(50);
            }
            Tool.Result second = tool.run("compare", "--job", "night.yaml");
            assertThat(second.code()).as(second.all()).isEqualTo(4);
            assertThat(second.err()).contains("another run of this job file is under way (process " + first.pid());
            Tool.Result third = tool.run("compare", "--job", "night.yaml");
            assertThat(third.code()).as(third.all()).isEqualTo(4);
            assertThat(posted).hasSize(2);
            assertThat(posted.get(1).get("state").asText()).isEqualTo("failed");
            assertThat(posted.get(1).get("exit-code").asInt()).isEqualTo(4);
            first.destroyForcibly().waitFor();
            run(0);
            assertThat(posted).hasSize(3);
            assertThat(posted.get(2).get("failure").asText()).contains("never came to its end");
            assertThat(tool.run("report", "--out-folder", "reports").code()).isZero();
            Files.move(folder.resolve("src.db"), folder.resolve("gone.db"));
            assertThat(tool.run("compare", "--job", "night.yaml").code()).isEqualTo(3);
            assertThat(posted.get(3).get("failure").asText()).contains("no such file: sqlite:src.db");
            // The last run there is says nothing of tonight.
            Tool.Result report = tool.run("report", "--out-folder", "reports");
            assertThat(report.code()).as(report.all()).isEqualTo(4);
            Files.writeString(
                    folder.resolve("night.yaml"),
                    Files.readString(folder.resolve("night.yaml")) + "workers: \"${NOT_SET_ANYWHERE}\"\n");
            assertThat(tool.run("compare", "--job", "night.yaml").code()).isEqualTo(2);
            assertThat(posted.get(4).get("failure").asText()).contains("NOT_SET_ANYWHERE is not set");
            assertThat(new Database(Kind.SQLITE, folder, "record")
                            .values("SELECT state || ' ' || exit_code FROM tally_run ORDER BY rowid"))
                    .containsExactly(
                            "complete 0", "failed 4", "failed 4", "failed 5", "complete 0", "failed 3", "failed 2");
        } finally {
            web.stop(0);
        }
    }

    @Test
    void badNoticesAreToldAllAtOnce() throws Exception {
        jobFile(
                "keep-runs: none\nnotify:\n  - {when: sometimes, post: ftp://x}\n  - {mail: {server: here, to: [], user: tally}}\n  - {}\n");
        Tool.Result result = tool.run("compare", "--job", "night.yaml");
        assertThat(result.code()).isEqualTo(2);
        assertThat(result.err())
                .contains("keep-runs should be", "change, failure or always", "begins with http://")
                .contains(
                        "a host and a port",
                        "the key from is missing here",
                        "needs somebody in to",
                        "either mail or post")
                .contains("belong together", "an encrypted connection only");
    }

    @Test
    void pagesAreManualPages() throws Exception {
        assertThat(tool.run("manual", "--out-folder", "man").code()).isZero();
        assertThat(Files.readString(folder.resolve("man/sharp-tally-compare.1")))
                .startsWith(".TH SHARP-TALLY-COMPARE 1")
                .contains(".SH EXIT STATUS", "\\-\\-resume RUN");
    }

    @ParameterizedTest
    @CsvSource({"bash, bash --norc --noprofile", "zsh, zsh -f", "fish, fish --no-config"})
    void shellsComplete(String shell, String command) throws Exception {
        assumeTrue(Screenful.isThere() && Files.isExecutable(Path.of("/usr/bin", shell)), shell + " is not installed");
        Tool.Result script = tool.run("completion", shell);
        assertThat(script.code()).as(script.all()).isZero();
        Files.writeString(folder.resolve("completion"), script.out());
        Files.createFile(folder.resolve("a-file"));
        // A shell may ask the program that it completes, which is to be this one.
        String path = "env PATH=" + Tool.home().resolve("bin") + ":" + System.getenv("PATH") + " ";
        try (Screenful terminal = new Screenful(folder, 100, 30, path + command)) {
            if (shell.equals("zsh")) {
                terminal.press("autoload -U compinit && compinit -u -d ./dump", "Enter");
            }
            terminal.press("source ./completion; echo re''ady", "Enter");
            terminal.seen("ready");
            // A key that comes while a shell looks for completions may break that off, so each is waited for.
            terminal.press("sharp-tally his", "Tab");
            terminal.seen("sharp-tally history");
            terminal.press("--lim", "Tab");
            terminal.seen("sharp-tally history --limit");
            terminal.press("C-u", "sharp-tally script --sty", "Tab");
            terminal.seen("sharp-tally script --style");
            terminal.press("Space", "Tab", "Tab");
            assertThat(terminal.seen("merge")).contains("batch", "row").doesNotContain("a-file");
        }
    }
}
