using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace YoungFolio.Storage.Migrations
{
    /// <inheritdoc />
    public partial class DailyLetters : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<DateTime>(
                name: "LetterAt",
                table: "People",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "WantsLetter",
                table: "People",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "LetterAt",
                table: "People");

            migrationBuilder.DropColumn(
                name: "WantsLetter",
                table: "People");
        }
    }
}
