using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.Tests.People;

public sealed class KeepPeopleTests(TemplateDatabase template)
{
    [Fact]
    public async Task Somebody_new_is_invited_once_and_chooses_a_password_that_cannot_be_guessed()
    {
        await using var book = await template.NewBook();
        (await Add(book, "x", "Sol Reed", "reader")).Refusal!.Message.ShouldContain("to sign in with");
        (await Add(book, "so<l>", "Sol Reed", "reader")).Refusal!.Message.ShouldContain("to sign in with");
        (await Add(book, "sol", "Sol\nReed", "reader")).Refusal!.Message.ShouldContain("person's name");
        (await Add(book, "sol", "Sol Reed", "king")).Refusal!.Message.ShouldContain("Choose a role");
        (await Add(book, "MARA", "Sol Reed", "reader")).Refusal!.Message.ShouldContain("already");
        var id = (await Add(book, "Sol", "Sol Reed", "technician")).Value;
        var sol = await book.Person("sol");
        var invitation = (await Invitations()).ShouldHaveSingleItem();
        (invitation.Id, invitation.SignIn, invitation.Role).ShouldBe((id, "sol", "technician"));

        (await Accept("short")).Refusal!.Message.ShouldContain("12 to 128");
        (await Accept("passwordpassword")).Refusal!.Message.ShouldContain("guessed");
        (await Accept("zenrikworkshop1")).Refusal!.Message.ShouldContain("guessed");
        (await Accept("onion reed lamp drum")).Refusal!.Message.ShouldContain("your name");
        (await Accept("ferry lamp onion drum", invitation.Token[..^3] + "abc")).Refusal!.Message.ShouldContain(
            "older than"
        );
        (await Person(book, "sol")).PasswordHash.ShouldBeNull("none of that was taken");
        var both = await Task.WhenAll(Accept("ferry lamp onion drum"), Accept("other lamp onion drum"));
        both.Count(o => o.Refusal is null).ShouldBe(1);
        (await Invitations()).ShouldBeEmpty();
        (await Accept("third lamp onion drum")).Refusal!.Message.ShouldContain("has been used");
        var chosen = both[0].Refusal is null ? "ferry lamp onion drum" : "other lamp onion drum";

        (await Change("wrong", "quiet lamp onion drum")).Refusal!.Message.ShouldContain("present password");
        (await Change(chosen, chosen)).Refusal!.Message.ShouldContain("is the old one");
        var stamp = (await Person(book, "sol")).SecurityStamp;
        (await Change(chosen, "quiet lamp onion drum")).Value.ShouldContain("changed");
        (await Person(book, "sol")).SecurityStamp.ShouldNotBe(stamp);

        // Forgotten: a new invitation; who has left gets none.
        _ = (await book.Do<KeepPeople, Outcome<string>>(p => p.ResetPassword(id, book.Lead))).Value;
        invitation = (await Invitations()).ShouldHaveSingleItem();
        _ = (await book.Do<KeepPeople, Outcome<string>>(p => p.SetDisabled(id, true, book.Lead))).Value;
        (await Invitations()).ShouldBeEmpty();
        (await Accept("ferry lamp onion drum")).Refusal.ShouldNotBeNull();

        Task<IReadOnlyList<Invitation>> Invitations() =>
            book.Do<KeepPeople, IReadOnlyList<Invitation>>(p => p.Invitations());
        Task<Outcome<Technician>> Accept(string password, string? token = null) =>
            book.Do<KeepPeople, Outcome<Technician>>(p => p.Accept(id, token ?? invitation.Token, password));
        Task<Outcome<string>> Change(string current, string wanted) =>
            book.Do<KeepPeople, Outcome<string>>(p => p.ChangeOwn(sol, current, wanted));
    }

    [Fact]
    public async Task Who_is_changed_reset_or_disabled_is_out_and_their_tokens_with_them()
    {
        await using var book = await template.NewBook();
        var ines = await book.Person("ines");
        var token = await Token();
        foreach (
            var act in new Func<KeepPeople, Task<string>>[]
            {
                async p => (await p.SetRole(ines.Id, "reader", book.Lead)).Value,
                async p => (await p.EndEverything(ines.Id, book.Lead)).Value,
                async p => (await p.ResetPassword(ines.Id, book.Lead)).Value,
                async p => (await p.SetDisabled(ines.Id, true, book.Lead)).Value,
            }
        )
        {
            var stamp = (await Person(book, "ines")).SecurityStamp;
            await book.Do(act);
            (await Person(book, "ines")).SecurityStamp.ShouldNotBe(stamp);
        }

        (await book.Do<ApiTokens, ApiToken?>(t => t.Known(token))).ShouldBeNull();
        (await book.Do<KeepPeople, IReadOnlyList<KnownPerson>>(p => p.List()))
            .Single(p => p.Id == ines.Id)
            .ShouldSatisfyAllConditions(
                p => p.Role.ShouldBe("reader"),
                p => p.DisabledAt.ShouldNotBeNull(),
                p => p.Invited.ShouldBeTrue(),
                p => p.Tokens.ShouldBe(0)
            );
        _ = (await book.Do<KeepPeople, Outcome<string>>(p => p.SetDisabled(ines.Id, false, book.Lead))).Value;
        (await book.Do<ApiTokens, ApiToken?>(t => t.Known(token))).ShouldBeNull("revoked is revoked");

        async Task<string> Token() => (await book.Do<ApiTokens, Outcome<string>>(t => t.Make("x", ines))).Value;
    }

    [Fact]
    public async Task One_lead_is_always_left_however_many_leave_at_once()
    {
        await using var book = await template.NewBook();
        var leads = (await book.Do<KeepPeople, IReadOnlyList<KnownPerson>>(p => p.List()))
            .Where(p => p.Role == Roles.Lead)
            .Select(p => p.Id)
            .ToList();
        var other = await book.Person("aled");
        _ = (await book.Do<KeepPeople, Outcome<string>>(p => p.SetRole(other.Id, Roles.Lead, book.Lead))).Value;
        leads.Add(other.Id);
        var said = await Task.WhenAll(
            leads.Select(
                (id, i) =>
                    book.Do<KeepPeople, Outcome<string>>(p =>
                        i % 2 == 0 ? p.SetDisabled(id, true, book.Lead) : p.SetRole(id, Roles.Reader, book.Lead)
                    )
            )
        );
        said.Count(s => s.Refusal is not null).ShouldBe(1);
        said.Single(s => s.Refusal is not null).Refusal!.Message.ShouldContain("the only lead");
        (await book.Do<KeepPeople, IReadOnlyList<KnownPerson>>(p => p.List()))
            .Count(p => p.Role == Roles.Lead && p.DisabledAt is null)
            .ShouldBe(1);
    }

    private static Task<Outcome<Guid>> Add(Book book, string signIn, string name, string role) =>
        book.Do<KeepPeople, Outcome<Guid>>(p => p.Add(signIn, name, role, book.Lead));

    private static Task<Technician> Person(Book book, string signIn) =>
        book.Ask(db => db.Users.AsNoTracking().SingleAsync(u => u.UserName == signIn));
}
