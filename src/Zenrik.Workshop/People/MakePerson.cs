using Microsoft.AspNetCore.Identity;

namespace Zenrik.Workshop.People;

/// <summary>Creates somebody with a role and a password that is not judged: a first one, made up at random.</summary>
internal static class MakePerson
{
    /// <param name="mustChange">True: nothing else is done before the password is changed.</param>
    /// <exception cref="InvalidOperationException">The name is taken or no name.</exception>
    public static async Task Run(
        UserManager<Technician> people,
        string signIn,
        string name,
        string role,
        string password,
        bool mustChange = false
    )
    {
        var person = new Technician
        {
            UserName = signIn,
            Name = name,
            MustChangePassword = mustChange,
        };
        person.PasswordHash = people.PasswordHasher.HashPassword(person, password);
        var made = await people.CreateAsync(person);
        if (!made.Succeeded)
        {
            throw new InvalidOperationException(string.Join("; ", made.Errors.Select(e => e.Description)));
        }

        await people.AddToRoleAsync(person, role);
    }
}
