using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using CsvHelper;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace RapidLedger.Benchmarks;

/// <summary>
/// How long it takes from a key at the desk until the tape is drawn again, in a headless browser over the built program: the demo shop as
/// it is, with many promotions live, and with a long cart. Browser and server share the machine's processors.
/// </summary>
internal static class KeyToTape
{
    private const int Keys = 60;
    private const int WarmingUp = 12;
    private static readonly TimeSpan Between = TimeSpan.FromMilliseconds(400);

    // From the key to the frame in which the new print stands.
    private const string Watch = """
        window.times = [];
        let pressed = null;
        const serial = () => document.querySelector('[data-testid=tape]').dataset.serial;
        document.addEventListener('keydown', () => { pressed = { at: performance.now(), serial: serial() }; }, true);
        new MutationObserver(() => {
          if (pressed === null || serial() === pressed.serial) return;
          const { at } = pressed;
          pressed = null;
          requestAnimationFrame(() => {
            const drawn = new MessageChannel();
            drawn.port1.onmessage = () => window.times.push(performance.now() - at);
            drawn.port2.postMessage(0);
          });
        }).observe(document.body, { subtree: true, attributes: true, attributeFilter: ['data-serial'] });
        """;

    /// <summary>Prints one line a shop.</summary>
    /// <param name="executable">The built program.</param>
    /// <param name="demo">The demo shop's files.</param>
    public static async Task Run(string executable, string demo)
    {
        foreach (
            var (name, more, lines, anything) in ((string, int, int, bool)[])
                [
                    ("26 live", 0, 0, false),
                    ("1,000 live", 974, 0, false),
                    ("5,000 live", 4_974, 0, false),
                    ("60 more that touch any cart", 60, 0, true),
                    ("a cart of 200 lines", 0, 200, false),
                ]
        )
        {
            var folder = Directory.CreateTempSubdirectory("rapid-ledger-keys").FullName;
            try
            {
                var data = Path.Combine(folder, "shop.db");
                Fill(executable, demo, Path.Combine(folder, "shop"), data, more, anything);
                var times = await Measure(executable, data, lines);
                Console.WriteLine(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{name, -30} {times[times.Length / 2], 6:0} ms, p95 {times[times.Length * 95 / 100], 4:0} ms, {times[^1], 4:0} at most, of {times.Length}"
                    )
                );
            }
            finally
            {
                Directory.Delete(folder, recursive: true);
            }
        }
    }

    private static string[] SkusOf(string shop)
    {
        using var rows = new CsvReader(new StreamReader(Path.Combine(shop, "items.csv")), CultureInfo.InvariantCulture);
        rows.Read();
        rows.ReadHeader();
        var skus = new List<string>();
        while (rows.Read())
            skus.Add(rows.GetField("sku")!);
        return [.. skus];
    }

    // The demo shop and more promotions, each on one of its items or on all.
    private static void Fill(string executable, string demo, string shop, string data, int more, bool anything)
    {
        foreach (var file in Directory.EnumerateFiles(demo, "*", SearchOption.AllDirectories))
        {
            var copy = Path.Combine(shop, Path.GetRelativePath(demo, file));
            Directory.CreateDirectory(Path.GetDirectoryName(copy)!);
            File.Copy(file, copy);
        }

        var skus = SkusOf(demo);
        var random = new Random(5);
        for (var number = 0; number < more; number++)
        {
            object on = anything ? new { all = true } : new { sku = skus[random.Next(skus.Length)] };
            File.WriteAllText(
                Path.Combine(shop, "promotions", $"more-{number}.json"),
                JsonSerializer.Serialize(
                    new
                    {
                        id = $"more-{number}",
                        name = $"More {number}",
                        state = "live",
                        rank = 1_000 + number,
                        when = new { spend = new { from = $"{random.Next(5, 90)}.00" } },
                        rewards = new[]
                        {
                            new
                            {
                                kind = "discount",
                                on = new { @in = new[] { on } },
                                take = new { percent = random.Next(1, 10) },
                                per = "unit",
                            },
                        },
                        stacking = new { allow = random.Next(3) == 0 ? "none" : "any" },
                    }
                )
            );
        }

        using var import = Process.Start(
            new ProcessStartInfo(executable, ["import", shop, "--data", data, "--uses-begin-anew"]) { RedirectStandardOutput = true }
        )!;
        import.StandardOutput.ReadToEnd();
        import.WaitForExit();
        if (import.ExitCode != 0)
            throw new InvalidOperationException("The shop was not taken in.");
    }

    private static async Task<double[]> Measure(string executable, string data, int lines)
    {
        using var server = Process.Start(
            new ProcessStartInfo(executable, ["serve", "--port", "0", "--data", data, "--log-level", "Warning"])
            {
                RedirectStandardOutput = true,
            }
        )!;
        try
        {
            var line = (await server.StandardOutput.ReadLineAsync())!;
            var address = line[line.IndexOf("http", StringComparison.Ordinal)..line.IndexOf(" (", StringComparison.Ordinal)];
            var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
            options.AddArguments("--headless=new", "--no-sandbox", "--disable-gpu", "--window-size=1280,939");
            using var service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
            using var browser = new ChromeDriver(service, options);
            browser.Navigate().GoToUrl(new Uri($"{address}/promotions/trade-12"));
            Thread.Sleep(TimeSpan.FromSeconds(3));
            if (lines > 0)
            {
                var skus = SkusOf(Path.Combine(Path.GetDirectoryName(data)!, "shop")).Take(lines).Select(sku => new { sku, quantity = 2 });
                browser.ExecuteScript(
                    "const kept = JSON.parse(localStorage['rapid-ledger.cart']); kept.cart.lines = JSON.parse(arguments[0]); localStorage['rapid-ledger.cart'] = JSON.stringify(kept)",
                    JsonSerializer.Serialize(skus)
                );
                browser.Navigate().Refresh();
                Thread.Sleep(TimeSpan.FromSeconds(3));
            }

            browser.ExecuteScript(Watch);
            var percent = browser.FindElement(By.CssSelector("input[aria-label='Percent off']"));
            for (var key = 0; key < Keys; key++)
            {
                browser.ExecuteScript("arguments[0].focus(); arguments[0].select()", percent);
                percent.SendKeys($"{1 + (key % 8)}");
                Thread.Sleep(Between);
            }

            var times = (IEnumerable<object>)browser.ExecuteScript("return window.times")!;
            return [.. times.Skip(WarmingUp).Select(time => Convert.ToDouble(time, CultureInfo.InvariantCulture)).Order()];
        }
        finally
        {
            server.Kill();
            await server.WaitForExitAsync();
        }
    }
}
