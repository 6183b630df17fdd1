using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

[assembly: AssemblyFixture(typeof(RapidLedger.Browser.Tests.Browsers))]

namespace RapidLedger.Browser.Tests;

/// <summary>
/// Browsers that are used by one journey after the other: to start one takes as long as a short journey. Each server has an address of its
/// own, so that nothing stored is shared.
/// </summary>
public sealed class Browsers : IDisposable
{
    private const int FirstPort = 20_000;
    private const int PortsOfOneRun = 16;

    private static readonly ConcurrentBag<ChromeDriver> Idle = [];

    // Runs beside each other begin apart.
    private static int nextPort = FirstPort + (Environment.ProcessId % 600 * PortsOfOneRun);

    public static ChromeDriver Take()
    {
        if (Idle.TryTake(out var used))
            return used;
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless=new",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--window-size=1280,939",
            "--force-device-scale-factor=1",
            "--lang=en-GB"
        );
        options.SetLoggingPreference(LogType.Browser, LogLevel.Severe);
        var service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
        service.Port = FreePort();
        return new(service, options);
    }

    // Below those that the system gives to whoever asks for any: a server that starts at the same moment could be given the driver's own.
    private static int FreePort()
    {
        lock (Idle)
        {
            while (true)
            {
                using var probe = new TcpListener(IPAddress.Loopback, nextPort++);
                try
                {
                    probe.Start();
                    return ((IPEndPoint)probe.LocalEndpoint).Port;
                }
                catch (SocketException)
                {
                    // Somebody has it: the next one.
                }
            }
        }
    }

    /// <summary>
    /// For the next journey, on an empty page and at the size that all begin with; one that does not answer any more is ended.
    /// </summary>
    public static void GiveBack(ChromeDriver browser)
    {
        try
        {
            browser.ExecuteCdpCommand("Emulation.clearDeviceMetricsOverride", []);
            browser.ExecuteCdpCommand("Emulation.setEmulatedMedia", new() { ["media"] = "" });
            browser.Navigate().GoToUrl("about:blank");
            browser.Manage().Window.Size = new(1280, 939);
            browser.Manage().Logs.GetLog(LogType.Browser);
            Idle.Add(browser);
        }
        catch (WebDriverException)
        {
            browser.Dispose();
        }
    }

    public void Dispose()
    {
        while (Idle.TryTake(out var browser))
            browser.Dispose();
    }
}
