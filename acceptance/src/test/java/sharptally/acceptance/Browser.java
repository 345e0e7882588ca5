package sharptally.acceptance;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.WebSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;

/** A page in headless Chromium, led through its debugging protocol; what it asks for and complains of is kept. */
final class Browser implements AutoCloseable, WebSocket.Listener {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final long WAIT_SECONDS = 30;

    final List<String> requests = new CopyOnWriteArrayList<>();
    final List<String> complaints = new CopyOnWriteArrayList<>();

    private final Process process;
    private final WebSocket socket;
    private final Map<Integer, CompletableFuture<JsonNode>> answers = new ConcurrentHashMap<>();
    private final StringBuilder message = new StringBuilder();
    private volatile CompletableFuture<Void> loaded = new CompletableFuture<>();
    private int calls;

    static boolean isThere() {
        return Files.isExecutable(Path.of("/usr/bin/chromium"));
    }

    Browser(Path folder, Path page) throws IOException {
        List<String> command = new ArrayList<>(List.of("/usr/bin/chromium", "--headless", "--no-sandbox"));
        command.addAll(List.of("--disable-gpu", "--disable-quic", "--no-first-run", "--disable-sync"));
        command.addAll(List.of("--disable-background-networking", "--disable-component-update"));
        command.addAll(List.of("--remote-debugging-port=0", "--user-data-dir=" + folder, "about:blank"));
        process = new ProcessBuilder(command).redirectErrorStream(true).start();
        var said = new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
        String line = said.readLine();
        while (line != null && !line.contains("DevTools listening on ")) {
            line = said.readLine();
        }
        int port = URI.create(line.substring(line.indexOf("ws://"))).getPort();
        CompletableFuture.runAsync(() -> said.lines().forEach(l -> {}));
        HttpClient client = HttpClient.newHttpClient();
        try {
            HttpResponse<String> tabs = client.send(
                    HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/json"))
                            .build(),
                    HttpResponse.BodyHandlers.ofString());
            String tab = JSON.readTree(tabs.body())
                    .get(0)
                    .get("webSocketDebuggerUrl")
                    .asText();
            socket = client.newWebSocketBuilder()
                    .buildAsync(URI.create(tab), this)
                    .join();
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
        for (String domain : List.of("Page", "Network", "Runtime", "Log")) {
            call(domain + ".enable", Map.of());
        }
        call("Browser.setDownloadBehavior", Map.of("behavior", "allow", "downloadPath", folder.toString()));
        call("Page.navigate", Map.of("url", page.toUri().toString()));
        loaded.orTimeout(WAIT_SECONDS, TimeUnit.SECONDS).join();
    }

    /** From the beginning of its loading to the end of its load event. */
    double secondsToLoad() {
        return Double.parseDouble(value("performance.getEntriesByType('navigation')[0].loadEventEnd / 1000"));
    }

    void reload() {
        loaded = new CompletableFuture<>();
        call("Page.reload", Map.of());
        loaded.orTimeout(WAIT_SECONDS, TimeUnit.SECONDS).join();
    }

    private JsonNode call(String method, Map<String, Object> parameters) {
        var answer = new CompletableFuture<JsonNode>();
        int id = ++calls;
        answers.put(id, answer);
        try {
            String text = JSON.writeValueAsString(Map.of("id", id, "method", method, "params", parameters));
            socket.sendText(text, true).join();
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
        return answer.orTimeout(WAIT_SECONDS, TimeUnit.SECONDS).join();
    }

    /** What a script of the page comes to, as text. */
    String value(String script) {
        JsonNode answer = call("Runtime.evaluate", Map.of("expression", script, "returnByValue", true));
        if (answer.path("result").has("exceptionDetails")) {
            throw new IllegalStateException(answer.toString());
        }
        return answer.path("result").path("result").path("value").asText();
    }

    @Override
    public CompletionStage<?> onText(WebSocket from, CharSequence data, boolean last) {
        message.append(data);
        if (last) {
            try {
                JsonNode told = JSON.readTree(message.toString());
                message.setLength(0);
                take(told);
            } catch (IOException e) {
                complaints.add(e.toString());
            }
        }
        from.request(1);
        return null;
    }

    private void take(JsonNode told) {
        String method = told.path("method").asText();
        if (told.has("id")) {
            answers.remove(told.get("id").asInt()).complete(told);
        } else if (method.equals("Page.loadEventFired")) {
            loaded.complete(null);
        } else if (method.equals("Network.requestWillBeSent")) {
            requests.add(told.at("/params/request/url").asText());
        } else if (method.equals("Runtime.exceptionThrown") || method.equals("Log.entryAdded")) {
            complaints.add(told.toString());
        }
    }

    @Override
    public void close() {
        socket.abort();
        // Its helpers write to its folder, which the test removes.
        List<ProcessHandle> helpers = process.descendants().toList();
        process.destroyForcibly();
        helpers.forEach(ProcessHandle::destroyForcibly);
        process.onExit().join();
        helpers.forEach(helper -> helper.onExit().join());
    }
}
