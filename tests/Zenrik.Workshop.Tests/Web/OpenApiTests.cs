namespace Zenrik.Workshop.Tests.Web;

/// <summary>
/// What programs may rely on: the API's own description equals the committed one, so that a change of it is seen and meant.
/// </summary>
public sealed class OpenApiTests(TemplateDatabase template)
{
    [Fact]
    public async Task The_description_of_the_API_is_the_one_that_is_committed()
    {
        await using var program = await RunningProgram.On(template);
        using var http = program.Client();
        var served = (
            await http.GetStringAsync("/openapi/v1.json", TestContext.Current.CancellationToken)
        ).ReplaceLineEndings("\n");
        var kept = Path.Combine(AppContext.BaseDirectory, "Web", "openapi.json");
        if (Environment.GetEnvironmentVariable("ZENRIK_KEEP_OPENAPI") is { Length: > 0 } place)
        {
            await File.WriteAllTextAsync(place, served, TestContext.Current.CancellationToken);
        }

        var committed = await File.ReadAllTextAsync(kept, TestContext.Current.CancellationToken);
        served
            .Split('\n')
            .Except(committed.Split('\n'))
            .ShouldBeEmpty("meant? ZENRIK_KEEP_OPENAPI=tests/Zenrik.Workshop.Tests/Web/openapi.json keeps the new one");
        served.ShouldBe(committed);
    }
}
