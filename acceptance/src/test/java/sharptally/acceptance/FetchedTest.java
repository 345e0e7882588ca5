package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Files in an object store and behind http, from real servers on this machine. */
@InTurn(1)
class FetchedTest {
    private static final int ROWS = 60_000;

    @TempDir
    Path folder;

    private static byte[] csv(int from, int to) {
        Random random = new Random(7);
        StringBuilder text = new StringBuilder("id,level_m\n");
        for (int id = 1; id <= to; id++) {
            String level = random.nextInt(9_000) + "." + random.nextInt(1_000_000);
            if (id >= from) {
                text.append(id).append(',').append(level).append('\n');
            }
        }
        return text.toString().getBytes(StandardCharsets.UTF_8);
    }

    private static byte[] gzip(byte[] bytes) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (GZIPOutputStream packed = new GZIPOutputStream(out)) {
            packed.write(bytes);
        }
        return out.toByteArray();
    }

    private static Map<String, String> environment(Path temporary, Map<String, String> credentials) {
        Map<String, String> environment = new HashMap<>(credentials);
        environment.put("AWS_EC2_METADATA_DISABLED", "true");
        environment.put("TMPDIR", temporary.toString());
        return environment;
    }

    private static void leavesNothing(Path temporary) throws IOException {
        try (var left = Files.list(temporary)) {
            assertThat(left.filter(f -> f.getFileName().toString().startsWith("sharp-tally"))
                            .toList())
                    .isEmpty();
        }
    }

    @Test
    void objectsAreComparedOrSaidToBeNone() throws Exception {
        Path temporary = Files.createDirectory(folder.resolve("tmp"));
        Files.write(folder.resolve("whole.csv"), csv(1, ROWS));
        byte[] edited = new String(csv(1, ROWS), StandardCharsets.UTF_8)
                .replaceFirst("\n777,[^\n]*", "\n777,-1.5")
                .getBytes(StandardCharsets.UTF_8);
        try (ObjectStore store = new ObjectStore(Files.createDirectory(folder.resolve("store")))) {
            store.put("in/part-1.csv.gz", gzip(csv(1, 20_000)));
            store.put("in/part-2.csv.gz", gzip(csv(20_001, ROWS)));
            store.put("in/other/part-3.csv.gz", gzip(csv(1, 5)));
            store.put("edited.csv", edited);
            Tool tool = Tool.apart(folder);
            Map<String, String> known = environment(temporary, ObjectStore.credentials());
            String options = "?" + ObjectStore.options(store.port());
            Tool.Result same = tool.with(
                    known,
                    "compare",
                    "csv:whole.csv",
                    "s3://archive/in/*.csv.gz" + options + "#reading",
                    "--key",
                    "id");
            assertThat(same.code()).as(same.all()).isZero();
            assertThat(same.out()).contains(" 60,000 ");
            Tool.Result found = tool.with(
                    known, "compare", "csv:whole.csv", "csv:s3://archive/edited.csv" + options, "--key", "id");
            assertThat(found.code()).as(found.all()).isEqualTo(1);
            assertThat(tool.run("show").out())
                    .contains("whole.csv:778 > edited.csv:778")
                    .contains("-1.5");
            // Fixed, it is a new object beside the old one, which stays.
            String run = found.out().replaceFirst("(?s).*\\nrun (\\S+)\\n.*", "$1");
            Tool.Result applied = tool.with(known, "apply", run);
            assertThat(applied.code()).as(applied.all()).isZero();
            assertThat(applied.out())
                    .contains("file    s3://archive/edited.fixed.csv")
                    .contains("undo    csv:s3://archive/edited.csv" + options + ", which stays");
            Tool.Result fixed = tool.with(
                    known, "compare", "csv:whole.csv", "csv:s3://archive/edited.fixed.csv" + options, "--key", "id");
            assertThat(fixed.code()).as(fixed.all()).isZero();
            assertThat(tool.with(known, "apply", run, "--table", "whole").all())
                    .contains("there is such an object already");
            assertThat(tool.with(known, "survey", "s3://archive/in/" + options + "")
                            .code())
                    .isEqualTo(2);
            Tool.Result listed = tool.with(known, "survey", "csv:s3://archive/in/" + options);
            assertThat(listed.out())
                    .as(listed.all())
                    .contains("part-1", "part-2")
                    .doesNotContain("part-3");

            Map<String, String> bad = Map.of(
                    "csv:s3://archive/nosuch.csv" + options,
                    "no such object",
                    "csv:s3://nosuch/edited.csv" + options,
                    "no such object, or no such bucket",
                    "csv:s3://archive/zz*.csv" + options,
                    "no object is of this pattern",
                    "csv:s3://archive" + options,
                    "names no object",
                    "csv:s3://archive/edited.csv?endpoint=ftp://x",
                    "not the address of a server",
                    "csv:s3://archive/edited.csv?endpoint=http://127.0.0.1:1&path-style=yes",
                    "can't be reached");
            for (Map.Entry<String, String> each : bad.entrySet()) {
                Tool.Result result = tool.with(known, "survey", each.getKey());
                assertThat(result.code()).as(each.getKey() + result.all()).isBetween(2, 4);
                assertThat(result.err().lines().toList()).as(result.all()).hasSize(1);
                assertThat(result.err()).contains(each.getValue());
            }
            Tool.Result refused = tool.with(
                    environment(
                            temporary, Map.of("AWS_ACCESS_KEY_ID", "tide", "AWS_SECRET_ACCESS_KEY", "wrong-secret")),
                    "survey",
                    "csv:s3://archive/edited.csv" + options);
            assertThat(refused.all()).contains("refuses our credentials").doesNotContain("wrong-secret");
            Tool.Result none = tool.with(
                    environment(temporary, Map.of("HOME", folder.toString())),
                    "survey",
                    "csv:s3://archive/edited.csv" + options);
            assertThat(none.all()).contains("no credentials for the store were found");

            // Cut three times, it goes on where it was.
            try (CuttingProxy cutting = new CuttingProxy(store.port(), 300_000, 3)) {
                Tool.Result went = tool.with(
                        known,
                        "compare",
                        "csv:whole.csv",
                        "csv:s3://archive/edited.csv?" + ObjectStore.options(cutting.port()),
                        "--key",
                        "id");
                assertThat(went.code()).as(went.all()).isEqualTo(1);
                assertThat(cutting.cutsLeft()).isZero();
            }
            leavesNothing(temporary);
        }
    }

    @Test
    void whatChangesWhileItIsFetchedIsNoProof() throws Exception {
        Path temporary = Files.createDirectory(folder.resolve("tmp"));
        Files.write(folder.resolve("whole.csv"), csv(1, ROWS));
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        AtomicInteger version = new AtomicInteger(1);
        byte[] bytes = csv(1, ROWS);
        server.createContext("/", exchange -> {
            String path = exchange.getRequestURI().getPath();
            boolean head = exchange.getRequestMethod().equals("HEAD");
            String tag = "\"" + version.get() + "\"";
            exchange.getResponseHeaders().add("ETag", tag);
            List<String> match = exchange.getRequestHeaders().getOrDefault("If-Match", List.of(tag));
            int code = path.startsWith("/nosuch")
                    ? 404
                    : path.startsWith("/closed")
                                    && !exchange.getRequestHeaders().containsKey("Authorization")
                            ? 401
                            : match.equals(List.of(tag)) ? 200 : 412;
            if (head || code != 200) {
                exchange.getResponseHeaders().add("Content-Length", String.valueOf(bytes.length));
                exchange.sendResponseHeaders(code, -1);
                if (path.startsWith("/moving")) {
                    version.incrementAndGet();
                }
            } else {
                exchange.sendResponseHeaders(200, bytes.length);
                try (OutputStream out = exchange.getResponseBody()) {
                    out.write(bytes);
                }
            }
            exchange.close();
        });
        server.start();
        try {
            String at = "http://127.0.0.1:" + server.getAddress().getPort();
            Tool tool = Tool.apart(folder);
            Map<String, String> plain = environment(temporary, Map.of());
            Tool.Result same =
                    tool.with(plain, "compare", "csv:whole.csv", at + "/down/whole.csv?header=yes", "--key", "id");
            assertThat(same.code()).as(same.all()).isZero();
            Map<String, String> bad = Map.of(
                    at + "/moving.csv",
                    "changed while it was read",
                    at + "/nosuch.csv",
                    "no such file",
                    at + "/closed.csv",
                    "refuses us (401)",
                    at + "/whole",
                    "does not tell what kind",
                    "csv:" + at + "/a*.csv",
                    "lists no files",
                    "csv:http://tide.example.org/a.csv",
                    "use https");
            for (Map.Entry<String, String> each : bad.entrySet()) {
                Tool.Result result = tool.with(plain, "compare", "csv:whole.csv", each.getKey(), "--key", "id");
                assertThat(result.code()).as(each.getKey() + result.all()).isBetween(2, 4);
                assertThat(result.all()).contains(each.getValue()).doesNotContain("same:");
            }
            leavesNothing(temporary);
        } finally {
            server.stop(0);
        }
    }
}
