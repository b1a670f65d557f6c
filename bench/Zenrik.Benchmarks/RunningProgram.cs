using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Text.RegularExpressions;
using Zenrik.Demo.World;

namespace Zenrik.Benchmarks;

/// <summary>The program as it is served, in a process of its own, and somebody signed in.</summary>
internal sealed partial class RunningProgram(Process process, HttpClient http) : IAsyncDisposable
{
    /// <param name="name">Who is signed in.</param>
    public static async Task<RunningProgram> Start(string connection, string name = "mara")
    {
        using var probe = new TcpListener(IPAddress.Loopback, 0);
        probe.Start();
        var url = $"http://127.0.0.1:{((IPEndPoint)probe.LocalEndpoint).Port}";
        probe.Stop();
        var start = new ProcessStartInfo("dotnet", ["Zenrik.Web.dll", "--urls", url])
        {
            WorkingDirectory = Environment.GetEnvironmentVariable("ZENRIK_APP") ?? ".zenrik/app",
            RedirectStandardOutput = true,
        };
        start.Environment["ConnectionStrings__Workshop"] = connection;
        var program = new RunningProgram(
            Process.Start(start)!,
            new HttpClient(new HttpClientHandler { AllowAutoRedirect = true }) { BaseAddress = new Uri(url) }
        );
        await program.SignIn(name);
        return program;
    }

    public async Task Get(string address, bool fragment)
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, address);
        if (fragment)
        {
            request.Headers.Add("HX-Request", "true");
        }

        using var answer = await http.SendAsync(request);
        answer.EnsureSuccessStatusCode();
        _ = await answer.Content.ReadAsStringAsync();
    }

    /// <summary>Sends a form as a page's script does.</summary>
    /// <returns>What came back.</returns>
    public async Task<string> Post(string address, params (string Name, string Value)[] fields)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, address)
        {
            Content = new FormUrlEncodedContent(
                fields.Append(("__RequestVerificationToken", token)).ToDictionary(f => f.Item1, f => f.Item2)
            ),
        };
        request.Headers.Add("HX-Request", "true");
        using var answer = await http.SendAsync(request);
        answer.EnsureSuccessStatusCode();
        return await answer.Content.ReadAsStringAsync();
    }

    /// <summary>A page of the program with nothing on it: the frame, and what it costs to know who asks.</summary>
    public async Task Nothing()
    {
        using var answer = await http.GetAsync(new Uri("/practice/none", UriKind.Relative));
        _ = await answer.Content.ReadAsStringAsync();
    }

    /// <summary>Milliseconds of processor time it has taken so far.</summary>
    public double ProcessorTime
    {
        get
        {
            process.Refresh();
            return process.TotalProcessorTime.TotalMilliseconds;
        }
    }

    public async ValueTask DisposeAsync()
    {
        process.Kill();
        await process.WaitForExitAsync();
        process.Dispose();
        http.Dispose();
    }

    private string token = "";

    private async Task SignIn(string name)
    {
        string? page = null;
        for (var tries = 0; page is null; tries++)
        {
            try
            {
                page = await http.GetStringAsync(new Uri("/sign-in", UriKind.Relative));
            }
            catch (HttpRequestException) when (tries < 300)
            {
                await Task.Delay(100);
            }
        }

        var asked = Token().Match(page).Groups[1].Value;
        using var form = new FormUrlEncodedContent(
            new Dictionary<string, string>
            {
                ["name"] = name,
                ["password"] = LoadDemo.Password,
                ["__RequestVerificationToken"] = asked,
            }
        );
        (await http.PostAsync(new Uri("/sign-in", UriKind.Relative), form)).EnsureSuccessStatusCode();
        token = Token().Match(await http.GetStringAsync(new Uri("/account", UriKind.Relative))).Groups[1].Value;
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\"[^>]*value=\"([^\"]+)\"")]
    private static partial Regex Token();
}
