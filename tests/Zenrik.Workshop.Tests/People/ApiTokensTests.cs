using Zenrik.Core;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.Tests.People;

public sealed class ApiTokensTests(TemplateDatabase template)
{
    [Fact]
    public async Task A_token_opens_until_its_owner_revokes_it_and_only_its_hash_is_kept()
    {
        await using var book = await template.NewBook();
        var (aled, ines) = (await book.Person("aled"), await book.Person("ines"));
        Task<T> Tokens<T>(Func<ApiTokens, Task<T>> use) => book.Do(use);

        var token = (await Tokens(t => t.Make("  bench script ", aled))).Value;
        (await Tokens(t => t.Known(token)))!.Owner.UserName.ShouldBe("aled");
        (await Tokens(t => t.Known(token.ToUpperInvariant()))).ShouldBeNull();
        (await Tokens(t => t.Known(""))).ShouldBeNull();
        var kept = (await Tokens(t => t.Of(aled))).ShouldHaveSingleItem();
        kept.Name.ShouldBe("bench script");
        System.Text.Encoding.Latin1.GetString(kept.Hash).ShouldNotContain(token[3..20]);

        (await Tokens(t => t.Revoke(kept.Id, ines))).Refusal!.Reason.ShouldBe(RefusalReason.NotFound);
        (await Tokens(t => t.Known(token))).ShouldNotBeNull();
        (await Tokens(t => t.Revoke(kept.Id, aled))).Value.ShouldBe("bench script");
        (await Tokens(t => t.Revoke(kept.Id, aled))).Value.ShouldBe("bench script");
        (await Tokens(t => t.Known(token))).ShouldBeNull();

        (await Tokens(t => t.Make(" ", aled))).Refusal!.Reason.ShouldBe(RefusalReason.Invalid);
        (await Tokens(t => t.Make(new string('x', 61), aled))).Refusal!.Reason.ShouldBe(RefusalReason.Invalid);
        (await Tokens(t => t.Make("x", aled, ["root"]))).Refusal!.Message.ShouldContain("\"root\" is none");
        (await Tokens(t => t.Make("x", aled, days: 366))).Refusal!.Message.ShouldContain("1 to 365 days");

        var narrow = (await Tokens(t => t.Make("count", aled, ["stores"], days: 2))).Value;
        (await Tokens(t => t.Known(narrow)))!.Scopes.ShouldBe(["read", "stores"]);
        await book.Sql("UPDATE api_tokens SET expires_at = now() - interval '1 second' WHERE name = 'count'");
        (await Tokens(t => t.Known(narrow))).ShouldBeNull("its days are over");

        for (var i = 0; i < ApiTokens.MostTokens; i++)
        {
            _ = (await Tokens(t => t.Make($"one of many {i}", aled))).Value;
        }

        (await Tokens(t => t.Make("one too many", aled))).Refusal!.Message.ShouldContain("Revoke one");
        (await Tokens(t => t.RevokeAll(aled.Id))).ShouldBe(ApiTokens.MostTokens + 1);
    }
}
