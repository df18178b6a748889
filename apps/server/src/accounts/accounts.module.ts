import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Account, KnownBrowser, Session } from './account.entity';
import { AccountsController } from './accounts.controller';
import { AccountsService } from './accounts.service';
import { GuessesService } from './guesses.service';
import { LinksService } from './links.service';
import { SecondFactorService } from './second-factor.service';
import { RecordsService } from './records.service';

@Module({
  imports: [TypeOrmModule.forFeature([Account, KnownBrowser, Session])],
  controllers: [AccountsController],
  providers: [AccountsService, GuessesService, LinksService, RecordsService, SecondFactorService],
  exports: [AccountsService, LinksService, RecordsService, SecondFactorService],
})
export class AccountsModule {}
