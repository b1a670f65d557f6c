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
        (await Tokens(t => t.OwnerOf(token)))!.UserName.ShouldBe("aled");
        (await Tokens(t => t.OwnerOf(token.ToUpperInvariant()))).ShouldBeNull();
        (await Tokens(t => t.OwnerOf(""))).ShouldBeNull();
        var kept = (await Tokens(t => t.Of(aled))).ShouldHaveSingleItem();
        kept.Name.ShouldBe("bench script");
        System.Text.Encoding.Latin1.GetString(kept.Hash).ShouldNotContain(token[3..20]);

        (await Tokens(t => t.Revoke(kept.Id, ines))).Refusal!.Reason.ShouldBe(RefusalReason.NotFound);
        (await Tokens(t => t.OwnerOf(token))).ShouldNotBeNull();
        (await Tokens(t => t.Revoke(kept.Id, aled))).Value.ShouldBe("bench script");
        (await Tokens(t => t.Revoke(kept.Id, aled))).Value.ShouldBe("bench script");
        (await Tokens(t => t.OwnerOf(token))).ShouldBeNull();

        (await Tokens(t => t.Make(" ", aled))).Refusal!.Reason.ShouldBe(RefusalReason.Invalid);
        (await Tokens(t => t.Make(new string('x', 61), aled))).Refusal!.Reason.ShouldBe(RefusalReason.Invalid);
    }
}
