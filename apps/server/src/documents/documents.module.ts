import { Module } from '@nestjs/common';
import { DocumentsService } from './documents.service';
import { ShowingService } from './showing.service';
import { VersionsService } from './versions.service';

const SERVICES = [DocumentsService, ShowingService, VersionsService];

@Module({ providers: SERVICES, exports: SERVICES })
export class DocumentsModule {}
