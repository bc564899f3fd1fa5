using System.Security.Cryptography;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Server.Api;
using YoungFolio.Storage;

namespace YoungFolio.Server.Security;

/// <summary>How accounts are kept, and what whoever keeps the server can do for one.</summary>
internal static class Accounts
{
    // Without signs that are taken for one another when read aloud or copied by hand.
    private const string Signs = "abcdefghjkmnpqrstuvwxyz23456789";
    private const int Groups = 5;

    /// <summary>Adds the store of accounts with its rules.</summary>
    public static IdentityBuilder Add(IServiceCollection services) => services.AddIdentityCore<Person>(o =>
    {
        o.User.RequireUniqueEmail = true;
        o.User.AllowedUserNameCharacters = "";
        o.Password.RequiredLength = SessionApi.ShortestPassword;
        o.Password.RequireDigit = o.Password.RequireLowercase = o.Password.RequireUppercase = o.Password.RequireNonAlphanumeric = false;
    }).AddPasswordValidator<PasswordRules>().AddEntityFrameworkStores<FolioDatabase>();

    /// <summary>
    /// Gives a person who forgot the password another one, while the server runs or not. Wherever the person is signed in,
    /// that ends within seconds.
    /// </summary>
    /// <param name="data">The data folder.</param>
    /// <param name="address">The account's e-mail address.</param>
    /// <returns>The password.</returns>
    /// <exception cref="StoreException">There are no data, or there is no such account.</exception>
    public static async Task<string> GiveNewPasswordAsync(string data, string address)
    {
        await using ServiceProvider provider = Provide(data);
        await using AsyncServiceScope scope = provider.CreateAsyncScope();
        UserManager<Person> accounts = scope.ServiceProvider.GetRequiredService<UserManager<Person>>();
        Person person = await FindAsync(accounts, address);
        string password = string.Join('-', Enumerable.Range(0, Groups).Select(_ => RandomNumberGenerator.GetString(Signs, 4)));
        await using var all = await scope.ServiceProvider.GetRequiredService<FolioDatabase>().Database.BeginTransactionAsync();
        IdentityResult[] steps =
        [
            await accounts.RemovePasswordAsync(person), await accounts.AddPasswordAsync(person, password),
        ];
        if (Array.Find(steps, s => !s.Succeeded) is { } failed)
        {
            throw new StoreException($"The password can't be stored: {failed.Errors.First().Description}");
        }

        await all.CommitAsync();
        return password;
    }

    /// <summary>Notes that an address is its account's own: letters to it are shown in the outbox, and invitations to it open at once.</summary>
    /// <param name="data">The data folder.</param>
    /// <param name="address">The account's e-mail address.</param>
    /// <exception cref="StoreException">There are no data, or there is no such account.</exception>
    public static async Task VerifyAsync(string data, string address)
    {
        await using ServiceProvider provider = Provide(data);
        await using AsyncServiceScope scope = provider.CreateAsyncScope();
        UserManager<Person> accounts = scope.ServiceProvider.GetRequiredService<UserManager<Person>>();
        Person person = await FindAsync(accounts, address);
        person.EmailConfirmed = true;
        IdentityResult stored = await accounts.UpdateAsync(person);
        if (!stored.Succeeded)
        {
            throw new StoreException($"It can't be stored: {stored.Errors.First().Description}");
        }
    }

    private static ServiceProvider Provide(string data)
    {
        if (!File.Exists(FolioDatabase.FileIn(data)))
        {
            throw new StoreException($"There is no data in {data}.");
        }

        var services = new ServiceCollection();
        services.AddLogging();
        services.AddDbContext<FolioDatabase>(o => FolioDatabase.Configure(o, data));
        Add(services);
        return services.BuildServiceProvider();
    }

    private static async Task<Person> FindAsync(UserManager<Person> accounts, string address) =>
        await accounts.FindByEmailAsync(address.Trim()) ?? throw new StoreException($"There is no account with the address {address}.");
}
