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
        o.Lockout.MaxFailedAccessAttempts = 5;
        o.Lockout.DefaultLockoutTimeSpan = TimeSpan.FromMinutes(5);
    }).AddEntityFrameworkStores<FolioDatabase>();

    /// <summary>
    /// Gives a person who forgot the password another one, while the server runs or not. Wherever the person is signed in,
    /// that ends within a minute; an account that was locked is open again.
    /// </summary>
    /// <param name="data">The data folder.</param>
    /// <param name="address">The account's e-mail address.</param>
    /// <returns>The password.</returns>
    /// <exception cref="StoreException">There are no data, or there is no such account.</exception>
    public static async Task<string> GiveNewPasswordAsync(string data, string address)
    {
        if (!File.Exists(FolioDatabase.FileIn(data)))
        {
            throw new StoreException($"There is no data in {data}.");
        }

        var services = new ServiceCollection();
        services.AddLogging();
        services.AddDbContext<FolioDatabase>(o => FolioDatabase.Configure(o, data));
        Add(services);
        await using ServiceProvider provider = services.BuildServiceProvider();
        await using AsyncServiceScope scope = provider.CreateAsyncScope();
        UserManager<Person> accounts = scope.ServiceProvider.GetRequiredService<UserManager<Person>>();
        Person person = await accounts.FindByEmailAsync(address.Trim()) ?? throw new StoreException($"There is no account with the address {address}.");
        string password = string.Join('-', Enumerable.Range(0, Groups).Select(_ => RandomNumberGenerator.GetString(Signs, 4)));
        await using var all = await scope.ServiceProvider.GetRequiredService<FolioDatabase>().Database.BeginTransactionAsync();
        IdentityResult[] steps =
        [
            await accounts.RemovePasswordAsync(person), await accounts.AddPasswordAsync(person, password),
            await accounts.SetLockoutEndDateAsync(person, null), await accounts.ResetAccessFailedCountAsync(person),
        ];
        if (Array.Find(steps, s => !s.Succeeded) is { } failed)
        {
            throw new StoreException($"The password can't be stored: {failed.Errors.First().Description}");
        }

        await all.CommitAsync();
        return password;
    }
}
