using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kinetra.Data.Migrations
{
    /// <inheritdoc />
    public partial class TakeDetails : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "copy",
                table: "takes",
                type: "jsonb",
                nullable: true);

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "deleted_at",
                table: "takes",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "from",
                table: "takes",
                type: "bigint",
                nullable: false,
                defaultValue: 0L);

            migrationBuilder.AddColumn<string>(
                name: "notes",
                table: "takes",
                type: "character varying(4000)",
                maxLength: 4000,
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<long>(
                name: "to",
                table: "takes",
                type: "bigint",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "copy",
                table: "takes");

            migrationBuilder.DropColumn(
                name: "deleted_at",
                table: "takes");

            migrationBuilder.DropColumn(
                name: "from",
                table: "takes");

            migrationBuilder.DropColumn(
                name: "notes",
                table: "takes");

            migrationBuilder.DropColumn(
                name: "to",
                table: "takes");
        }
    }
}
